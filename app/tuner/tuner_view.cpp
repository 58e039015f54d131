#include "app/tuner/tuner_view.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QRandomGenerator>
#include <QScrollArea>
#include <QScrollBar>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/editors/copies_plot.h"
#include "app/editors/mode_gallery.h"
#include "app/editors/spread_plot.h"
#include "app/editors/transfer_plot.h"
#include "app/fields/colour_field.h"
#include "app/fields/number_field.h"
#include "app/fields/palette_shelf.h"
#include "app/fields/reset_dot.h"
#include "app/fields/rows.h"
#include "app/fields/telling_place.h"
#include "app/pictures/step_words.h"
#include "app/style/labels.h"
#include "app/style/theme.h"
#include "app/tuner/feed_menu.h"
#include "core/document/edits.h"
#include "core/document/layers.h"
#include "core/steps/vary.h"

namespace kettle {

TunerView::TunerView(Session& session, PictureService& service, QWidget* parent)
    : QWidget(parent), m_session(session), m_service(service), m_shelf(new PaletteShelf(session, this)) {
    setObjectName(QStringLiteral("paper"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    setMinimumWidth(280);
    connect(&session, &Session::fileChanged, this, [this] {
        // Another project: its rows come after the event that opened it, which has enough to do.
        if (m_isStale || m_session.selectedStep() == m_step) return;
        m_isStale = true;
        rebuildSoon();
    });
    connect(&session, &Session::selectionChanged, this, [this] {
        if (!m_isStale && m_builtFor != stateNow()) rebuild();  // an opened project tells of itself twice
    });
    connect(&session, &Session::projectChanged, this, &TunerView::refresh);
    connect(&session, &Session::lookChanged, this, &TunerView::refresh);
    connect(&session, &Session::openedChanged, this, &TunerView::refresh);
    for (const auto signal : {&Session::projectChanged, &Session::lookChanged}) {
        connect(&session, signal, this, &TunerView::askGallery);
        connect(&session, signal, this, &TunerView::askTransfer);
    }
    connectService();
    rebuild();
}

void TunerView::connectService() {
    connect(&m_service, &PictureService::modesReady, this, [this](quint64 number, const auto& pictures) {
        if (number == m_galleryNumber && m_gallery != nullptr) m_gallery->setPictures(pictures);
    });
    connect(&m_service, &PictureService::measured, this, [this](quint64 number, const Project& project) {
        if (number != m_measureNumber) return;
        // What was measured belongs to the project as it was; newer work is not overwritten by it.
        if (m_measureFrom == m_session.history().revision())
            m_session.apply(project, m_measureName);
        else
            Q_EMIT m_session.told(
                tr("The project was changed while it was measured, so nothing was set. Measure again."),
                true);
    });
    connect(&m_service, &PictureService::measureFailed, this,
            [this](quint64 number, const QString& sentence) {
                if (number == m_measureNumber) Q_EMIT m_session.told(sentence, true);
            });
    connect(&m_service, &PictureService::transferReady, this,
            [this](quint64 number, const auto& transfer, const QString& sentence) {
                if (number != m_transferNumber || m_transfer == nullptr) return;
                transfer != nullptr ? m_transfer->setTransfer(transfer, m_probed)
                                    : m_transfer->setSentence(sentence);
            });
    connect(&m_service, &PictureService::objectsReady, this, &TunerView::showCopies);
    connect(&m_session, &Session::objectsChanged, this, [this] {
        if (m_strip != nullptr) m_strip->setChosen(m_session.chosenObjects());
    });
    connect(&m_service, &PictureService::colourReady, this, [this](quint64 number, const Colour& colour) {
        if (number == m_colourNumber && m_pickingField != nullptr) m_pickingField->take(colour);
    });
    connect(&m_service, &PictureService::colourFailed, this, [this](quint64 number, const QString& sentence) {
        if (number == m_colourNumber) Q_EMIT m_session.told(sentence, true);
    });
}

const CardPicture* TunerView::pictureOf(const std::string& step) const {
    return m_pictures ? m_pictures->find(step) : nullptr;
}

std::optional<Spread> TunerView::spreadIn() const {
    if (const CardPicture* own = pictureOf(m_step); own != nullptr && own->read) return own->read->in;
    const Project& project = m_session.projectWith(m_step);
    const auto place = project.findStep(m_step);
    if (!place || place->step == 0) return std::nullopt;
    const CardPicture* picture = pictureOf(project.lines[place->line]->steps[place->step - 1]->id);
    return picture != nullptr ? std::optional(picture->spread()) : std::nullopt;
}

Reading TunerView::reading() const {
    const auto shown = m_session.shownStep(m_step);
    const Line* line = m_session.selectedLine();
    const StepSpec* spec = shown ? m_catalogue.find(shown->type) : nullptr;
    return spec != nullptr && line != nullptr ? readingOf(*spec, StepView(*spec, *shown, line->kind))
                                              : Reading{};
}

std::optional<double> TunerView::readOf(const ProbeAnswer* answer, int component) const {
    const Reading now = reading();
    // What another input brings is not probed.
    if (answer == nullptr || !answer->hasBefore || !now.input.empty()) return std::nullopt;
    const auto& at = answer->before.linear;
    const Vec3 value{at[0], at[1], at[2]};
    if (component < 0 || answer->before.kind != Kind::Colour)
        return static_cast<double>(numberRead(answer->before.kind, value, now, at[3]));
    const Vec3 numbers = numbersRead(value, now);
    return static_cast<double>(component == 0 ? numbers.x : component == 1 ? numbers.y : numbers.z);
}

void TunerView::setPictures(std::shared_ptr<const CardPictures> pictures) {
    m_pictures = std::move(pictures);
    for (const auto& refreshSpread : m_spreadRefreshers) refreshSpread();
}

void TunerView::set(const std::string& control, ControlValue value, bool inGesture) {
    m_session.setControl(m_step, control, std::move(value), inGesture ? m_gesture : 0);
}

std::string TunerView::stateNow() const {
    std::string state = std::to_string(m_session.history().revision()) + "|" + m_session.look();
    for (const std::string& step : m_session.selection()) state += "|" + step;
    return state + "|" + m_session.selectedStep();
}

void TunerView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (m_isStale) rebuildSoon();
}

void TunerView::rebuildSoon() {
    QTimer::singleShot(0, this, [this] {
        if (m_isStale) rebuild(Rows::FewAnEvent);
    });
}

void TunerView::rebuild(Rows rows) {
    // Behind another page the rows wait until they are seen: an opened project shows its board first.
    m_isStale = m_body != nullptr && !isVisible();
    if (m_isStale) return;
    m_builtFor = stateNow();
    m_refreshers.clear();
    m_spreadRefreshers.clear();
    m_probeRefreshers.clear();
    m_gallery = nullptr;
    m_transfer = nullptr;
    m_copies = nullptr;
    m_strip = nullptr;
    if (auto* old = qobject_cast<QScrollArea*>(m_body))
        m_scrolled[m_step] = old->verticalScrollBar()->value();
    delete m_body;
    auto* area = new QScrollArea(this);
    m_body = area;
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout()->addWidget(area);
    auto* page = new QWidget;
    page->setObjectName(QStringLiteral("paper"));
    area->setWidget(page);
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(16, 12, 16, 12);
    column->setSpacing(8);
    m_step = m_session.selectedStep();
    m_catalogue = m_session.steps();
    m_recipe.reset();
    const auto shown = m_session.shownStep(m_step);
    const Line* line = m_session.selectedLine();
    const StepSpec* spec = shown ? m_catalogue.find(shown->type) : nullptr;
    m_type = shown ? shown->type : std::string();
    if (!shown || line == nullptr) {
        column->addWidget(quietLabel(tr("Choose a step on the board to tune it."), page));
        column->addStretch(1);
        return;
    }
    const bool isHead = spec != nullptr && spec->editor == StepEditor::Layer;
    if (isHead) {
        addLayerTitle(*column, *line);
    } else {
        auto* title = new QLabel(spec != nullptr ? text(spec->name) : text(shown->type), page);
        title->setObjectName(QStringLiteral("title"));
        column->addWidget(title);
        addRecipeBack(*column);
        addLayerBack(*column, *shown, *line);
        column->addWidget(quietLabel(spec != nullptr
                                         ? text(spec->purpose)
                                         : tr("This program does not know the step. It passes its input on."),
                                     page));
    }
    if (spec == nullptr) {
        column->addStretch(1);
        return;
    }
    if (!spec->source) {
        auto* bar = new QHBoxLayout;
        auto* bypass = new QCheckBox(tr("Bypass"), page);
        bypass->setToolTip(tr("Passes the input on unchanged (X on the board)"));
        connect(bypass, &QCheckBox::clicked, this, [this] { m_session.toggleBypass(m_step); });
        m_refreshers.push_back([bypass](const StepView& v) { bypass->setChecked(v.step().bypass); });
        bar->addWidget(bypass);
        bar->addStretch(1);
        auto* where = quietLabel({}, page);
        where->setObjectName(QStringLiteral("where"));
        where->setWordWrap(false);
        where->setAccessibleName(tr("Where changes go"));
        m_refreshers.push_back([this, where](const StepView&) { tellWhere(*where); });
        bar->addWidget(where);
        column->addLayout(bar);
    }
    if (const Recipe* recipe = recipeOfStep()) {
        m_recipe = Shared<Recipe>(*recipe);
        addRecipeBar(*column, *recipe);
    }
    addTelling(*column, *spec);
    const bool isInner = m_session.isInner(m_step);
    for (const FeedSpec& feed : spec->feeds)
        if (feed.isMain && !isInner) addFeed(*column, feed, line->kind);
    addSpecial(*column, *spec, line->kind);
    if (m_recipe && std::any_of((*m_recipe)->steps.begin(), (*m_recipe)->steps.end(),
                                [](const auto& inner) { return inner->type == vary::kType; }))
        addCopies(*column);
    if (rows == Rows::AtOnce) return addRows(*area, 0, rows);
    refresh();
    QTimer::singleShot(0, page, [this, area, rows] { addRows(*area, 0, rows); });
}

void TunerView::addRows(QScrollArea& area, std::size_t from, Rows rows) {
    auto* column = qobject_cast<QVBoxLayout*>(area.widget()->layout());
    const auto shown = m_session.shownStep(m_step);
    const Line* line = m_session.selectedLine();
    // What changed since the head was made makes everything anew.
    if (m_session.selectedStep() != m_step || !shown || shown->type != m_type || line == nullptr) return;
    const StepSpec* spec = m_catalogue.find(m_type);
    constexpr std::size_t kFew = 5;
    const std::size_t all = spec->controls.size(),
                      end = rows == Rows::AtOnce ? all : std::min(all, from + kFew);
    for (std::size_t i = from; i < end; ++i) addControlAt(*column, *spec, i, line->kind);
    if (end == all) return addFoot(area, *spec, *shown, *line);
    refresh();
    QTimer::singleShot(0, area.widget(), [this, &area, end, rows] { addRows(area, end, rows); });
}

void TunerView::addControlAt(QVBoxLayout& column, const StepSpec& spec, std::size_t index, Kind kind) {
    const auto isFor = [kind](const ControlSpec& c) {
        return (!c.colourOnly || kind == Kind::Colour) &&
               (c.kinds.empty() || std::find(c.kinds.begin(), c.kinds.end(), kind) != c.kinds.end());
    };
    const ControlSpec& control = spec.controls[index];
    const auto first = spec.controls.begin(), here = first + static_cast<std::ptrdiff_t>(index);
    if (control.ofSet && std::none_of(first, here, [](const ControlSpec& c) { return c.ofSet; }))
        addPlacementTitle(column);
    if (!isFor(control)) return;
    const auto before = std::find_if(std::make_reverse_iterator(here), spec.controls.rend(), isFor);
    if (control.section != (before == spec.controls.rend() ? std::string() : before->section))
        addSection(column, control.section);
    addControl(column, spec, control, kind);
}

void TunerView::addFoot(QScrollArea& area, const StepSpec& spec, const Step& shown, const Line& line) {
    QWidget* page = area.widget();
    auto* column = qobject_cast<QVBoxLayout*>(page->layout());
    const bool isInner = m_session.isInner(m_step);
    for (const FeedSpec& feed : spec.feeds)
        if (!feed.isMain && !isInner && layerOf(shown).empty()) addFeed(*column, feed, line.kind);
    if (isInner) tellFeeds(*column, spec, shown);
    if (spec.editor == StepEditor::Layer) addLayerTable(*column, line);
    if (spec.editor == StepEditor::BlendModes && line.kind != Kind::Normal) {
        addGallery(*column);
        addTransfer(*column);
    }
    column->addStretch(1);
    auto* title = quietLabel({}, page);
    title->setObjectName(QStringLiteral("histogram-title"));
    column->addWidget(title);
    auto* plot = new SpreadPlot(page);
    column->addWidget(plot);
    m_spreadRefreshers.push_back([this, plot] {
        const CardPicture* own = pictureOf(m_step);
        const Spread* out = own == nullptr ? nullptr : own->read ? &own->read->out : &own->spread();
        plot->setSpreads(spreadIn(), out != nullptr ? std::optional(*out) : std::nullopt);
    });
    m_refreshers.push_back(
        [this, title, isSource = spec.source, isColour = line.kind == Kind::Colour](const StepView&) {
            const bool isLight = isColour && reading().numbers == NumberSpace::LinearLight;
            const QString what = isLight ? tr("Linear light") : tr("Histogram");
            title->setText(isSource ? tr("%1: after").arg(what)
                                    : tr("%1: before (line), after (filled)").arg(what));
        });
    for (const auto& refreshSpread : m_spreadRefreshers) refreshSpread();
    refresh();
    if (const auto at = m_scrolled.find(m_step); at != m_scrolled.end() && at->second > 0) {
        page->layout()->activate();
        area.verticalScrollBar()->setMaximum(std::max(at->second, area.verticalScrollBar()->maximum()));
        area.verticalScrollBar()->setValue(at->second);
    }
}

void TunerView::refresh() {
    if (m_isStale) return;
    const auto shown = m_session.shownStep(m_step);
    const Line* line = m_session.selectedLine();
    if (m_session.selectedStep() != m_step || !shown || shown->type != m_type || line == nullptr) {
        if (m_session.selectedStep() == m_step && !shown && m_type.empty()) return;
        rebuild();
        return;
    }
    const Recipe* recipe = recipeOfStep();
    if ((recipe != nullptr) != m_recipe.has_value() || (recipe != nullptr && !(*recipe == **m_recipe)))
        return rebuild();
    const StepSpec* spec = m_catalogue.find(shown->type);
    if (spec == nullptr) return;
    const StepView view(*spec, *shown, line->kind);
    for (const auto& refreshOne : m_refreshers) refreshOne(view);
}

QWidget* TunerView::makeResetDot(const ControlSpec& control, QWidget* parent) {
    return makeResetDot(
        text(control.name), [id = control.id] { return id; }, parent);
}

QWidget* TunerView::makeResetDot(const QString& name, const std::function<std::string()>& idNow,
                                 QWidget* parent) {
    auto* dot = new ResetDot(parent);
    dot->setAccessibleName(tr("Reset %1").arg(name));
    connect(dot, &QAbstractButton::clicked, this, [this, idNow] { m_session.resetControl(m_step, idNow()); });
    dot->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(dot, &QWidget::customContextMenuRequested, this,
            [this, dot, idNow](QPoint at) { openControlMenu(idNow(), dot->mapToGlobal(at)); });
    m_refreshers.push_back([this, dot, idNow](const StepView& v) {
        const std::string id = idNow();
        const StepSpec* spec = m_session.steps().find(v.step().type);
        const ControlSpec* control = spec != nullptr ? spec->findControl(id) : nullptr;
        const bool differs = control != nullptr && !(v.control(id) == control->defaultOf(v.step().version));
        const Project& project = m_session.projectWith(m_step);
        const Look* look = project.findLook(m_session.look());
        const bool byLook = changeIn(project, look, m_step + "." + id) != nullptr;
        dot->setObjectName(QStringLiteral("reset-") + text(id));
        dot->setChange(byLook    ? ResetDot::Change::ByLook
                       : differs ? ResetDot::Change::FromDefault
                                 : ResetDot::Change::None);
        dot->setToolTip(
            m_session.holdsInAllLooks(m_step, id)
                ? tr("Changed in all looks. Click to take the base's value again; the menu holds it in "
                     "this look only.")
            : byLook ? tr("Changed by this look. Click to take the base's value again; the menu holds "
                          "it in all looks.")
            : differs && look != nullptr
                ? tr("The base differs from the default. Click to take the default in this look.")
            : differs ? tr("Differs from the default. Click to reset.")
                      : QString());
    });
    return dot;
}

void TunerView::addControl(QVBoxLayout& column, const StepSpec& spec, const ControlSpec& control, Kind kind) {
    if (control.type == ControlType::Ramp || control.type == ControlType::Colour) {
        // In a widget of its own, so that it can go while it does not matter.
        auto* whole = new QWidget(column.parentWidget());
        auto* rows = new QVBoxLayout(whole);
        rows->setContentsMargins(0, 0, 0, 0);
        rows->setSpacing(column.spacing());
        column.addWidget(whole);
        m_refreshers.push_back(
            [whole, described = &control](const StepView& v) { whole->setVisible(v.isShown(*described)); });
        return control.type == ControlType::Ramp ? addRamp(*rows, control, kind) : addColour(*rows, control);
    }
    // These have an editor of their own (addSpecial); the gallery shows the modes.
    if (control.type == ControlType::Curve || control.type == ControlType::Text ||
        control.type == ControlType::Triple)
        return;
    if (control.hidden) return;
    QGridLayout* row = addRow(column);
    row->addWidget(makeResetDot(control, row->parentWidget()), 0, 0);
    auto* label = new QLabel(text(control.name), row->parentWidget());
    label->setToolTip(text(control.tip));
    label->setFixedWidth(kLabelWidth);
    offerMenu(label, control.id);
    row->addWidget(label, 0, 1);
    QWidget* holder = row->parentWidget();
    const ControlSpec* described = &control;  // of m_catalogue
    m_refreshers.push_back(
        [holder, described](const StepView& v) { holder->setVisible(v.isShown(*described)); });
    switch (control.type) {
        case ControlType::Number:
            addNumber(*row, control);
            break;
        case ControlType::Choice:
            addChoice(*row, spec, control);
            break;
        case ControlType::Toggle:
            addToggle(*row, control);
            break;
        case ControlType::Space:
            addSpace(*row, control);
            break;
        case ControlType::Part:
            addPart(*row, control);
            break;
        default:
            break;
    }
}

}  // namespace kettle
