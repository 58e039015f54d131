#include "app/explore/explore_sheet.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QRandomGenerator>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/explore/axis_bar.h"
#include "app/explore/candidate_grid.h"
#include "app/fields/number_field.h"
#include "app/style/theme.h"
#include "core/base/names.h"

namespace kettle {

ExploreSheet::ExploreSheet(Session& session, PictureService& pictures, QWidget* parent)
    : QFrame(parent),
      m_session(session),
      m_pictures(pictures),
      m_about(new QLabel(this)),
      m_state(new QLabel(this)),
      m_none(new QLabel(
          tr("Choose a step on the board that has something to try, or a control under Across."), this)),
      m_across(new AxisBar(session, false, this)),
      m_down(new AxisBar(session, true, this)),
      m_free(new QToolButton(this)),
      m_freeChip(new QToolButton(this)),
      m_sheet(new QPushButton(tr("Contact sheet…"), this)),
      m_close(new QPushButton(tr("Close"), this)),
      m_grid(new CandidateGrid(this)) {
    setObjectName(theme::kSheet);
    setAccessibleName(tr("Explore"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 14, 20, 12);
    column->setSpacing(10);
    auto* head = new QHBoxLayout;
    head->setSpacing(12);
    auto* title = new QLabel(tr("Explore"), this);
    title->setObjectName(QStringLiteral("title"));
    m_about->setObjectName(QStringLiteral("quiet"));
    head->addWidget(title);
    head->addWidget(m_about, 1);
    m_sheet->setToolTip(tr("All looks side by side as a picture or a PDF"));
    m_close->setToolTip(tr("Back to the window, with nothing taken (Esc)"));
    head->addWidget(m_sheet);
    head->addWidget(m_close);
    column->addLayout(head);
    m_free->setText(tr("Free"));
    m_free->setObjectName(QStringLiteral("free"));
    m_free->setCheckable(true);
    m_free->setToolTip(tr("Several controls at once, each somewhere around what it is"));
    m_freeBar = makeFreeBar();
    auto* axes = new QHBoxLayout;
    axes->setSpacing(16);
    axes->addWidget(m_across);
    axes->addWidget(m_down);
    axes->addWidget(m_free);
    axes->addWidget(m_freeBar);
    axes->addStretch(1);
    column->addLayout(axes);
    m_none->setObjectName(QStringLiteral("quiet"));
    m_none->setAlignment(Qt::AlignCenter);
    column->addWidget(m_none, 1);
    column->addWidget(m_grid, 1);
    auto* foot = new QHBoxLayout;
    auto* hint = new QLabel(tr("A click takes a candidate. Ctrl, or a drag along them, chooses several; K "
                               "keeps what is chosen as "
                               "looks. The wheel changes how many there are."),
                            this);
    for (QLabel* quiet : {hint, m_state}) quiet->setObjectName(QStringLiteral("quiet"));
    foot->addWidget(hint, 1);
    foot->addWidget(m_state);
    column->addLayout(foot);
    connect(m_close, &QPushButton::clicked, this, [this] { hide(); });
    connect(m_sheet, &QPushButton::clicked, this, [this] {
        // Several that are chosen are what it is to show.
        const QStringList kept = m_grid->chosen().size() > 1 ? keep() : QStringList();
        hide();
        Q_EMIT sheetWanted(kept);
    });
    connect(m_grid, &CandidateGrid::chosenChanged, this, [this](int count) {
        m_sheet->setText(count > 1 ? tr("Keep %1, contact sheet…").arg(count) : tr("Contact sheet…"));
    });
    connect(m_across, &AxisBar::changed, this,
            [this](const auto& axis) { change([&](ExplorePlan& p) { p.across = axis; }); });
    connect(m_down, &AxisBar::changed, this,
            [this](const auto& axis) { change([&](ExplorePlan& p) { p.down = axis; }); });
    connect(m_free, &QToolButton::toggled, this, &ExploreSheet::setFree);
    connect(m_grid, &CandidateGrid::taken, this, &ExploreSheet::take);
    connect(m_grid, &CandidateGrid::keepWanted, this, &ExploreSheet::keep);
    connect(m_grid, &CandidateGrid::countWanted, this,
            [this](int by) { change([by](ExplorePlan& p) { p.count = moreCandidates(p.count, by); }); });
    connect(m_grid, &CandidateGrid::resized, this, &ExploreSheet::ask);
    connect(&session, &Session::projectChanged, this, &ExploreSheet::refresh);
    connect(&session, &Session::lookChanged, this, &ExploreSheet::refresh);
    connect(&pictures, &PictureService::candidatesReady, this,
            [this](quint64 number, const std::shared_ptr<const CandidatePictures>& made) {
                if (number != m_asked || !isVisible()) return;
                if (made->stage >= 0) m_grid->setPictures(made);
                m_isCurrent = made->stage == Preview::kLastStage || made->stage < 0;
                tellState(made->problem);
            });
    parent->installEventFilter(this);
    hide();
}

QWidget* ExploreSheet::makeFreeBar() {
    auto* bar = new QWidget(this);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    m_freeChip->setPopupMode(QToolButton::InstantPopup);
    m_freeChip->setMenu(new QMenu(m_freeChip));
    m_freeChip->setToolTip(tr("Which controls are free"));
    connect(m_freeChip->menu(), &QMenu::aboutToShow, this, &ExploreSheet::fillFreeMenu);
    auto* words = new QLabel(tr("spread"), bar);
    words->setObjectName(QStringLiteral("quiet"));
    m_spread = new ValueSlider({0.02, 1, 2, {}}, bar);
    m_spread->setObjectName(QStringLiteral("spread"));
    m_spread->setAccessibleName(tr("Spread"));
    m_spread->setToolTip(tr("How far from what they are, as a share of their ranges"));
    m_spread->setFixedWidth(120);
    auto* another = new QPushButton(tr("Another seed"), bar);
    another->setObjectName(QStringLiteral("another"));
    connect(m_spread, &ValueSlider::edited, this,
            [this](double value, bool) { change([&](ExplorePlan& p) { p.spread = value; }); });
    connect(another, &QPushButton::clicked, this, [this] {
        change([](ExplorePlan& p) { p.seed = QRandomGenerator::global()->bounded(1, 10000); });
    });
    for (QWidget* w : std::initializer_list<QWidget*>{m_freeChip, words, m_spread, another})
        row->addWidget(w);
    return bar;
}

void ExploreSheet::fillFreeMenu() {
    QMenu* menu = m_freeChip->menu();
    menu->clear();
    for (const std::string& step : m_session.selection())
        for (const ExploreAxis& axis : exploreAxes(m_session.project(), step, m_session.steps())) {
            if (axis.what == ExploreWhat::Toggle) continue;
            auto* entry = menu->addAction(wordsOf(m_session, axis));
            entry->setCheckable(true);
            const auto at = std::find(m_plan.free.begin(), m_plan.free.end(), axis);
            entry->setChecked(at != m_plan.free.end());
            connect(entry, &QAction::toggled, this, [this, axis](bool on) {
                change([&](ExplorePlan& p) {
                    std::erase(p.free, axis);
                    if (on) p.free.push_back(axis);
                });
            });
        }
}

void ExploreSheet::setFree(bool on) {
    change([&](ExplorePlan& p) {
        p.free.clear();
        if (!on) return;
        for (const std::string& step : m_session.selection())
            for (const ExploreAxis& axis : exploreAxes(m_session.project(), step, m_session.steps()))
                if (axis.what != ExploreWhat::Toggle && axis.what != ExploreWhat::Choice && p.free.size() < 6)
                    p.free.push_back(axis);
    });
}

void ExploreSheet::open() {
    const bool isThere = [&] {
        const std::vector<std::string> chosen = m_session.selection();
        return m_plan.across &&
               std::find(chosen.begin(), chosen.end(), m_plan.across->step) != chosen.end() &&
               chosen.size() < 2;
    }();
    if (!isThere) {
        const int count = m_plan.count;
        m_plan = ExplorePlan{};
        m_plan.count = count;
        for (const std::string& step : m_session.selection()) {
            std::optional<ExploreAxis>& side = m_plan.across ? m_plan.down : m_plan.across;
            const auto axes =
                exploreAxes(m_session.project(), step, m_session.steps(), m_plan.across.has_value());
            if (!side && !axes.empty()) side = axes.front();
        }
    }
    begin();
}

void ExploreSheet::explore(const std::string& step, const std::string& control, bool down) {
    const auto axis = exploreAxis(m_session.project(), step, control, m_session.steps(), down);
    if (!axis) return;
    if (!isVisible()) {
        // The other side is kept while it is of the same step; a colour has its hue across and its value
        // down.
        std::optional<ExploreAxis>& other = down ? m_plan.across : m_plan.down;
        if (other && other->step != step) other.reset();
        if (other && other->control == control) other.reset();
        if (axis->what == ExploreWhat::Hue || axis->what == ExploreWhat::Value)
            other = exploreAxis(m_session.project(), step, control, m_session.steps(), !down);
    }
    (down ? m_plan.down : m_plan.across) = axis;
    m_plan.free.clear();
    begin();
}

void ExploreSheet::begin() {
    if (!isVisible()) m_before = QApplication::focusWidget();
    setGeometry(parentWidget()->rect());
    show();
    raise();
    refresh();
    m_grid->setFocus();
}

void ExploreSheet::change(const std::function<void(ExplorePlan&)>& edit) {
    edit(m_plan);
    refresh();
}

void ExploreSheet::refresh() {
    if (!isVisible()) return;
    const bool isFree = !m_plan.free.empty() || m_free->isChecked();
    {
        const QSignalBlocker quiet(m_free);
        m_free->setChecked(isFree);
    }
    m_across->setVisible(!isFree);
    m_down->setVisible(!isFree);
    m_freeBar->setVisible(isFree);
    m_across->setAxis(m_plan.across);
    m_down->setAxis(m_plan.down);
    m_freeChip->setText(m_plan.free.size() == 1 ? tr("1 control")
                                                : tr("%1 controls").arg(m_plan.free.size()));
    m_spread->setValue(m_plan.spread);
    const Session::Target to = m_session.target();
    const Look* look = to.project.findLook(to.look);
    m_about->setText(tr("%1 · %2 · %3")
                         .arg(look != nullptr ? QString::fromStdString(look->name) : m_session.baseName(),
                              QString::fromStdString(shownName(to.project.view.model)),
                              QString::fromStdString(shownName(to.project.view.environment))));
    ExplorePlan plan = m_plan;
    if (isFree && plan.free.empty()) plan.across = plan.down = std::nullopt;
    m_grid->setCandidates(candidatesOf(to.project, to.look, plan, m_session.steps()));
    const bool hasAny = !m_grid->candidates().all.empty();
    m_none->setVisible(!hasAny);
    m_grid->setVisible(hasAny);
    ask();
}

void ExploreSheet::ask() {
    if (!isVisible() || m_grid->candidates().all.empty() || !m_view) return;
    const Session::Target to = m_session.target();
    PreviewRequest request;
    request.project = to.project;
    request.look = to.look;
    const QSize size = m_grid->pictureSize() * devicePixelRatioF();
    request.width = size.width(), request.height = size.height();
    request.camera = m_view(static_cast<double>(size.width()) / size.height());
    for (const Candidate& candidate : m_grid->candidates().all) {
        auto project = withCandidate(to.project, to.look, candidate);
        request.others.push_back({project ? std::move(*project) : to.project, to.look, {}});
    }
    m_isCurrent = false;
    m_asked = m_pictures.askCandidates(std::move(request), m_session.resources());
    tellState({});
}

void ExploreSheet::tellState(const QString& problem) {
    const auto count = m_grid->candidates().all.size();
    m_state->setText(!problem.isEmpty() ? problem
                     : m_isCurrent      ? tr("%1 candidates · current").arg(count)
                                        : tr("%1 candidates · refining").arg(count));
}

void ExploreSheet::take(int index) {
    const Candidate candidate = m_grid->candidates().all[static_cast<std::size_t>(index)];
    if (m_session.takeCandidate(candidate)) hide();
}

QStringList ExploreSheet::keep() {
    std::vector<Candidate> all;
    const std::vector<int> chosen = m_grid->chosen();
    for (const int index : chosen) all.push_back(m_grid->candidates().all[static_cast<std::size_t>(index)]);
    QStringList made;
    if (!m_session.keepCandidates(all)) return made;
    m_grid->setKept(chosen);
    // New looks stand behind the others.
    const auto& looks = m_session.project().looks;
    for (std::size_t i = looks.size() - all.size(); i < looks.size(); ++i)
        made << QString::fromStdString(looks[i]->id);
    return made;
}

void ExploreSheet::showEvent(QShowEvent* event) {
    QFrame::showEvent(event);
    ask();
}

void ExploreSheet::hideEvent(QHideEvent* event) {
    QFrame::hideEvent(event);
    m_pictures.dropCandidates();
    if (m_before) m_before->setFocus();
}

void ExploreSheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return hide();
    QFrame::keyPressEvent(event);
}

bool ExploreSheet::eventFilter(QObject* watched, QEvent* event) {
    if (watched == parentWidget() && event->type() == QEvent::Resize && isVisible())
        setGeometry(parentWidget()->rect());
    return QFrame::eventFilter(watched, event);
}

}  // namespace kettle
