// The tuner's special editors: what a plain form would not show well.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/editors/hue_dial.h"
#include "app/editors/levels_plot.h"
#include "app/editors/mode_gallery.h"
#include "app/editors/ramp_editor.h"
#include "app/editors/ramp_shelf.h"
#include "app/editors/transfer_plot.h"
#include "app/fields/colour_field.h"
#include "app/fields/rows.h"
#include "app/tuner/tuner_view.h"
#include "core/analysis/matching.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/steps/blend.h"
#include "core/steps/curves.h"
#include "core/steps/formula.h"
#include "core/steps/hsv_shift.h"
#include "core/steps/levels.h"
#include "core/steps/map.h"

namespace kettle {
namespace {

Area areaOf(const QRectF& r) {
    return {static_cast<float>(r.left()), static_cast<float>(r.top()), static_cast<float>(r.right()),
            static_cast<float>(r.bottom())};
}

/// What the curves of a model are called.
std::array<QString, 3> curveNames(Model model) {
    if (model == Model::Hsv) return {QObject::tr("Hue"), QObject::tr("Saturation"), QObject::tr("Value")};
    if (model == Model::Hsl) return {QObject::tr("Hue"), QObject::tr("Saturation"), QObject::tr("Lightness")};
    if (model == Model::Oklch) return {QObject::tr("Lightness"), QObject::tr("Chroma"), QObject::tr("Hue")};
    return {QObject::tr("Red"), QObject::tr("Green"), QObject::tr("Blue")};
}

}  // namespace

void TunerView::addSpecial(QVBoxLayout& column, const StepSpec& spec, Kind kind) {
    // A recipe's step is not measured: what it would be measured on comes only where the recipe is used.
    const bool isMeasured = spec.editor == StepEditor::PickHue || spec.editor == StepEditor::PickArea ||
                            spec.editor == StepEditor::Match;
    if (isMeasured && m_session.isInner(m_step)) return;
    switch (spec.editor) {
        case StepEditor::MapFile:
            return addMapRows(column);
        case StepEditor::HueDial:
            return addDial(column);
        case StepEditor::PickHue:
            return addPick(column, tr("Pick the hue from the picture"));
        case StepEditor::Curves:
            return addCurves(column, kind);
        case StepEditor::Levels:
            return addLevels(column);
        case StepEditor::Formula:
            return addFormula(column);
        case StepEditor::PickArea:
            return addPick(column, tr("Draw the area in the picture"));
        case StepEditor::Match:
            return addMatch(column, *spec.match);
        case StepEditor::Layer:
            return addLayerMask(column);
        case StepEditor::Copies:
            return addCopies(column);
        case StepEditor::BlendModes:  // behind the controls
        case StepEditor::None:
            return;
    }
}

void TunerView::addDial(QVBoxLayout& column) {
    auto* dial = new HueDial(column.parentWidget());
    joinGesture(dial);
    connect(dial, &HueDial::edited, this, [this](double v, bool g) { set(hsv_shift::kHue.id, v, g); });
    connect(dial, &HueDial::bandEdited, this, [this](double centre, double width, bool g) {
        const auto round = [](double v) { return std::round(v * 10) / 10; };
        set(hsv_shift::kHues.centre.id, round(centre), g);
        set(hsv_shift::kHues.width.id, round(width), g);
    });
    m_refreshers.push_back([dial](const StepView& v) {
        const HueBandHandles& band = hsv_shift::kHues;
        dial->setAngle(v[hsv_shift::kHue]);
        dial->setBand(v[hsv_shift::kBand] ? std::optional(HueDial::Band{v[band.centre], v[band.width],
                                                                        v[band.softness], v[band.invert]})
                                          : std::nullopt);
    });
    m_spreadRefreshers.push_back([this, dial] { dial->setSpread(spreadIn()); });
    m_probeRefreshers.push_back([this, dial](const ProbeAnswer* a) {
        if (a == nullptr || !a->hasBefore) return dial->setMark(std::nullopt);
        Reading hsv = reading();
        hsv.model = Model::Hsv;
        const Vec3 at = numbersRead({a->before.linear[0], a->before.linear[1], a->before.linear[2]}, hsv);
        dial->setMark(at.y > 0.02f ? std::optional(static_cast<double>(at.x) * 360) : std::nullopt);
    });
    column.addWidget(dial);
    addPick(column, tr("Limit to a hue of the picture"));
}

void TunerView::addPick(QVBoxLayout& column, const QString& words) {
    auto* button = new QPushButton(words, column.parentWidget());
    button->setObjectName(QStringLiteral("pick"));
    button->setToolTip(tr("Then click in the flat picture, or draw over an area of it. Esc leaves it."));
    connect(button, &QPushButton::clicked, this, [this] {
        m_picking = m_step;
        m_pickingField = nullptr;
        Q_EMIT pickWanted(false);
    });
    column.addWidget(button);
}

void TunerView::equip(ColourField* field) {
    field->setShelf(m_shelf);
    connect(field, &ColourField::pickWanted, this, [this, field] {
        m_picking.clear();
        m_pickingField = field;
        Q_EMIT pickWanted(true);
    });
}

void TunerView::picked(const QRectF& uv) {
    if (m_pickingField != nullptr) {
        const LookHere place = m_session.surfacePlace();
        m_colourNumber = m_service.askColour(m_session.project(), m_session.look(), place.line, place.after,
                                             areaOf(uv), m_session.resources());
        return;
    }
    const auto place = m_session.project().findStep(m_picking);
    if (!place) return;
    const std::string step = std::exchange(m_picking, {}), look = m_session.look();
    const StepSpec* spec = m_session.steps().find(m_session.project().stepAt(*place).type);
    const bool isAim = spec != nullptr && spec->aim;
    const Area area = areaOf(uv);
    measure(isAim ? tr("Aim") : tr("Hue band"), [=](const Project& p, const Resources& r) -> Result<Project> {
        if (!isAim) return pickBand(p, look, step, area, r);
        auto solved = solveAim(p, look, step, area, r);
        if (!solved) return fail(solved.error());
        return std::move(solved->project);
    });
}

void TunerView::measure(const QString& name, PictureService::Measure what) {
    // A figure of half the tiles would look like one of all.
    if (m_session.arrived().all > 0) {
        Q_EMIT m_session.told(tr("The maps are still being read. Try again when all tiles are there."), true);
        return;
    }
    m_measureName = name;
    m_measureFrom = m_session.history().revision();
    m_measureNumber = m_service.askMeasure(m_session.project(), m_session.resources(), std::move(what));
}

void TunerView::addMatch(QVBoxLayout& column, const MatchPlace& measured) {
    auto* button = new QPushButton(tr("Measure both pictures"), column.parentWidget());
    button->setObjectName(QStringLiteral("measure"));
    button->setToolTip(
        tr("Takes mean and spread of what comes in and of the reference. Measure again when either has "
           "changed."));
    connect(button, &QPushButton::clicked, this, [this] {
        const std::string step = m_step, look = m_session.look();
        measure(tr("Measure"),
                [=](const Project& p, const Resources& r) { return measureMatch(p, look, step, r); });
    });
    column.addWidget(button);
    column.addWidget(makeMatchTable(column.parentWidget(), measured));
}

QWidget* TunerView::makeMatchTable(QWidget* parent, const MatchPlace& measured) {
    auto* table = new QWidget(parent);
    table->setObjectName(QStringLiteral("match-numbers"));
    auto* grid = new QGridLayout(table);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(2);
    int column = 1;
    for (const QString& name : {tr("lightness"), tr("a"), tr("b")})
        grid->addWidget(quietLabel(name, table), 0, column++, Qt::AlignRight);
    int at = 1;
    const std::pair<ColourHandle, QString> rows[]{{measured.fromMean, tr("Mean in")},
                                                  {measured.toMean, tr("Mean wanted")},
                                                  {measured.fromSpread, tr("Spread in")},
                                                  {measured.toSpread, tr("Spread wanted")}};
    for (const auto& [triple, name] : rows) {
        grid->addWidget(quietLabel(name, table), at, 0);
        std::array<QLabel*, 3> cells{};
        for (std::size_t c = 0; c < 3; ++c) {
            cells[c] = quietLabel({}, table);
            grid->addWidget(cells[c], at, static_cast<int>(c) + 1, Qt::AlignRight);
        }
        m_refreshers.push_back([cells, triple = triple](const StepView& v) {
            const Colour c = v[triple];
            const float numbers[]{c.r, c.g, c.b};
            for (std::size_t i = 0; i < 3; ++i)
                cells[i]->setText(QString::number(static_cast<double>(numbers[i]), 'f', 3));
        });
        ++at;
    }
    // Before it was measured there is nothing to show.
    m_refreshers.push_back([table, mean = measured.toMean](const StepView& v) {
        table->setVisible(v.step().controls.contains(mean.id));
    });
    return table;
}

void TunerView::addGallery(QVBoxLayout& column) {
    m_gallery = new ModeGallery(column.parentWidget());
    connect(m_gallery, &ModeGallery::chosen, this,
            [this](const QString& mode) { set(kBlendMode.id, mode.toStdString(), false); });
    ModeGallery* gallery = m_gallery;
    m_refreshers.push_back([gallery](const StepView& v) { gallery->setMode(v[TextHandle{kBlendMode.id}]); });
    column.addWidget(m_gallery);
    askGallery();
}

void TunerView::askGallery() {
    if (m_gallery != nullptr)
        m_galleryNumber = m_service.askModes(m_session.projectWith(m_step), m_session.look(), m_step,
                                             m_session.resources());
}

void TunerView::addTransfer(QVBoxLayout& column) {
    m_transfer = new TransferPlot(column.parentWidget());
    column.addWidget(m_transfer);
    m_probeRefreshers.push_back([this](const ProbeAnswer* a) {
        if (a == nullptr) return;  // the pointer has left: what it saw last stays
        m_probed = {a->u, a->v};
        askTransfer();
    });
    askTransfer();
}

void TunerView::askTransfer() {
    if (m_transfer != nullptr)
        m_transferNumber = m_service.askTransfer(m_session.projectWith(m_step), m_session.look(), m_step,
                                                 m_probed, m_session.resources());
}

void TunerView::addLevels(QVBoxLayout& column) {
    auto* plot = new LevelsPlot(column.parentWidget());
    joinGesture(plot);
    connect(plot, &LevelsPlot::edited, this,
            [this](const QString& control, double v, bool g) { set(control.toStdString(), v, g); });
    m_refreshers.push_back([plot](const StepView& v) {
        plot->setLevels({v[levels::kInBlack], v[levels::kInWhite], v[levels::kGamma], v[levels::kOutBlack],
                         v[levels::kOutWhite]});
    });
    m_spreadRefreshers.push_back([this, plot] { plot->setSpread(spreadIn()); });
    column.addWidget(plot);
}

void TunerView::addCurves(QVBoxLayout& column, Kind kind) {
    auto* which = new QComboBox(column.parentWidget());
    which->setAccessibleName(tr("Curve of"));
    which->setObjectName(QStringLiteral("curve-of"));
    which->addItem(tr("All"), QString::fromLatin1(curves::kAll.id));
    if (kind == Kind::Colour)
        for (const RampHandle curve : {curves::kFirst, curves::kSecond, curves::kThird})
            which->addItem(QString(), QString::fromLatin1(curve.id));
    which->setVisible(kind == Kind::Colour);
    auto* editor = new RampEditor(true, column.parentWidget());
    joinGesture(editor);
    connect(&editor->shelf(), &RampShelf::told, &m_session, &Session::told);
    connect(editor, &RampEditor::edited, this, [this, which](const Ramp& ramp, bool g) {
        set(which->currentData().toString().toStdString(), ramp, g);
    });
    connect(which, &QComboBox::activated, this, [this] { refresh(); });
    m_refreshers.push_back([which, editor](const StepView& v) {
        const auto names = curveNames(v[curves::kModel]);
        for (int i = 1; i < which->count(); ++i) {
            const bool bent =
                !v[RampHandle{which->itemData(i).toString().toLatin1().constData()}].isIdentity();
            which->setItemText(
                i, names[static_cast<std::size_t>(i - 1)] + (bent ? QStringLiteral(" •") : QString()));
        }
        editor->setRamp(v[RampHandle{which->currentData().toString().toLatin1().constData()}]);
    });
    m_spreadRefreshers.push_back([this, editor, which] {
        auto spread = spreadIn();
        // The spread of the component that is bent; "all" shows the brightness.
        if (spread && which->currentIndex() > 0 &&
            static_cast<int>(spread->components.size()) >= which->currentIndex())
            spread->brightness = spread->components[static_cast<std::size_t>(which->currentIndex() - 1)];
        editor->setSpread(spread);
    });
    m_probeRefreshers.push_back([this, editor, which](const ProbeAnswer* a) {
        editor->setMark(readOf(a, which->currentIndex() - 1));
    });
    QGridLayout* row = addRow(column);
    row->addWidget(makeResetDot(
                       tr("Curve"), [which] { return which->currentData().toString().toStdString(); },
                       row->parentWidget()),
                   0, 0);
    row->addWidget(new QLabel(tr("Curve"), m_body), 0, 1);
    row->addWidget(which, 0, 2, 1, 2);
    column.addWidget(editor);
}

void TunerView::addRamp(QVBoxLayout& column, const ControlSpec& control, Kind kind) {
    QGridLayout* row = addRow(column);
    row->addWidget(makeResetDot(control, row->parentWidget()), 0, 0);
    row->addWidget(new QLabel(text(control.name), row->parentWidget()), 0, 1);
    auto* editor = new RampEditor(kind == Kind::Scalar, column.parentWidget());
    const std::string id = control.id;
    joinGesture(editor);
    connect(&editor->shelf(), &RampShelf::told, &m_session, &Session::told);
    if (editor->colourField() != nullptr) equip(editor->colourField());
    connect(editor, &RampEditor::edited, this, [this, id](const Ramp& ramp, bool g) { set(id, ramp, g); });
    editor->setTonesOf([this] {
        const Project& project = m_session.projectWith(m_step);
        const auto place = project.findStep(m_step);
        const CardPicture* before = place && place->step > 0
                                        ? pictureOf(project.lines[place->line]->steps[place->step - 1]->id)
                                        : nullptr;
        return before != nullptr ? before->ribbon() : std::vector<std::uint32_t>{};
    });
    m_refreshers.push_back([editor, id](const StepView& v) { editor->setRamp(v[RampHandle{id.c_str()}]); });
    m_spreadRefreshers.push_back([this, editor] { editor->setSpread(spreadIn()); });
    m_probeRefreshers.push_back([this, editor](const ProbeAnswer* a) { editor->setMark(readOf(a)); });
    column.addWidget(editor);
}

void TunerView::addFormula(QVBoxLayout& column) {
    auto* edit = new QLineEdit(column.parentWidget());
    edit->setObjectName(QStringLiteral("formula"));
    edit->setAccessibleName(tr("Formula"));
    edit->setPlaceholderText(QString::fromLatin1(formula_step::kUnchanged));
    auto* problem = quietLabel({}, column.parentWidget());
    problem->setObjectName(QStringLiteral("formula-problem"));
    connect(edit, &QLineEdit::textEdited, this, [this, edit, problem] {
        // Only a formula that makes sense goes into the project; the picture stays as it was meanwhile.
        const Line* line = m_session.selectedLine();
        const std::string typed = edit->text().toStdString();
        const std::string wrong = line != nullptr ? formulaProblem(typed, line->kind) : std::string();
        problem->setText(text(wrong));
        if (wrong.empty()) set(formula_step::kFormula.id, typed, m_gesture != 0);
    });
    connect(edit, &QLineEdit::editingFinished, this, [this] { m_gesture = m_session.newGesture(); });
    m_gesture = m_session.newGesture();
    m_refreshers.push_back([edit](const StepView& v) {
        if (!edit->hasFocus()) edit->setText(text(v[formula_step::kFormula]));
    });
    column.addWidget(edit);
    column.addWidget(problem);
    column.addWidget(quietLabel(
        tr("in is what comes in; a, b, c, d are the lines below; u, v the place. + − * / ^, comparisons, "
           "mix, clamp, smoothstep, rgb, hsv, lum, sin, pow …"),
        column.parentWidget()));
}

void TunerView::addSpace(QGridLayout& row, const ControlSpec& control) {
    auto* box = new QComboBox(row.parentWidget());
    box->setAccessibleName(text(control.name));
    box->setObjectName(QStringLiteral("space-") + text(control.id));
    box->setToolTip(text(control.tip));
    box->setMinimumWidth(60);
    for (const std::string& space : m_session.resources().colours().spaces())
        box->addItem(text(space), text(space));
    const std::string id = control.id;
    connect(box, &QComboBox::activated, this,
            [this, box, id](int i) { set(id, box->itemData(i).toString().toStdString(), false); });
    m_refreshers.push_back([box, id](const StepView& v) {
        box->setCurrentIndex(box->findData(text(v[TextHandle{id.c_str()}])));
    });
    row.addWidget(box, 0, 2, 1, 2);
}

double TunerView::squareSize() const {
    const ViewSettings& view = m_session.project().view;
    const auto scene = m_service.scenes().loaded(view.model, view.unit);
    if (scene == nullptr) return 0;
    if (scene != m_measured.lock()) {
        m_measured = scene;
        m_squareSize = centimetresOfSquare(scene->mesh());
    }
    return m_squareSize;
}

void TunerView::addPlacementTitle(QVBoxLayout& column) {
    auto* title = quietLabel({}, column.parentWidget());
    title->setObjectName(QStringLiteral("placement"));
    m_refreshers.push_back([this, title](const StepView& v) {
        const TextureSet* set = m_session.project().findSet(v.step().set);
        const QString name = set != nullptr ? text(set->name) : QString();
        title->setText(v[kOwnPlace] ? tr("How this map of %1 lies on its own").arg(name)
                                    : tr("How all maps of %1 lie").arg(name));
    });
    column.addSpacing(4);
    column.addWidget(title);
}

void TunerView::addPart(QGridLayout& row, const ControlSpec& control) {
    auto* box = new QComboBox(row.parentWidget());
    box->setAccessibleName(text(control.name));
    box->setObjectName(QStringLiteral("part-") + text(control.id));
    box->setToolTip(text(control.tip));
    box->setMinimumWidth(60);
    const ViewSettings& view = m_session.project().view;
    if (const auto scene = m_service.scenes().loaded(view.model, view.unit)) {
        const Mesh& mesh = scene->mesh();
        for (const std::string& part : mesh.parts) box->addItem(text(part), text(part));
        // Objects of several parts can be named as well.
        for (const std::string& object : mesh.partObjects)
            if (box->findData(text(object)) < 0) box->addItem(text(object), text(object));
    }
    const std::string id = control.id;
    connect(box, &QComboBox::activated, this,
            [this, box, id](int i) { set(id, box->itemData(i).toString().toStdString(), false); });
    m_refreshers.push_back([box, id](const StepView& v) {
        const QString name = text(v[TextHandle{id.c_str()}]);
        if (box->findData(name) < 0 && !name.isEmpty())
            box->addItem(tr("%1 (not in the model)").arg(name), name);
        box->setCurrentIndex(box->findData(name));
    });
    row.addWidget(box, 0, 2, 1, 2);
}

void TunerView::setProbe(const ProbeAnswer* answer) {
    for (const auto& refreshOne : m_probeRefreshers) refreshOne(answer);
}

}  // namespace kettle
