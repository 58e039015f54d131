// The tuner's rows for what a step reads: the map of a source, and its feeds.
#include <QAbstractItemView>
#include <QComboBox>
#include <QMenu>
#include <QPushButton>

#include "app/fields/colour_field.h"
#include "app/fields/number_field.h"
#include "app/fields/rows.h"
#include "app/style/file_choice.h"
#include "app/style/theme.h"
#include "app/tuner/feed_menu.h"
#include "app/tuner/tuner_view.h"
#include "core/document/edits.h"

namespace kettle {
namespace {

constexpr int kFileWidth = 128;  ///< room for a file's name in its button
constexpr int kFeedWidth = 96;   ///< the same for what a feed reads, beside its picture

}  // namespace

void TunerView::addMapRows(QVBoxLayout& column) {
    const auto shown = m_session.shownStep(m_step);
    const TextureSet* set = m_session.project().findSet(shown->set);
    const Map* map = set != nullptr ? findMap(*set, shown->role) : nullptr;
    QGridLayout* row = addRow(column);
    keepDotColumn(*row, row->parentWidget());
    row->addWidget(new QLabel(tr("File"), row->parentWidget()), 0, 1);
    if (map == nullptr) {
        row->addWidget(quietLabel(tr("no map %1 in the set").arg(text(shown->role)), row->parentWidget()), 0,
                       2, 1, 2);
        return;
    }
    auto* file = new QPushButton(row->parentWidget());
    file->setObjectName(QStringLiteral("map-file"));
    file->setProperty("left", true);
    file->setMinimumWidth(60);
    file->setAccessibleName(tr("File of the map"));
    row->addWidget(file, 0, 2, 1, 2);
    auto* encoding = new QComboBox(row->parentWidget());
    encoding->setAccessibleName(tr("Encoding"));
    encoding->setMinimumWidth(60);
    encoding->setToolTip(tr("How the file's numbers become light. Automatic goes by role and depth."));
    encoding->addItem(tr("automatic"), QStringLiteral("auto"));
    for (const std::string& space : m_session.resources().colours().spaces())
        encoding->addItem(text(space), text(space));
    const std::string setId = set->id, role = map->role;
    connect(file, &QPushButton::clicked, this, [this, setId, role] {
        const TextureSet* now = m_session.project().findSet(setId);
        const Map* old = now != nullptr ? findMap(*now, role) : nullptr;
        if (old == nullptr) return;
        const QString chosen =
            chooseFile(this, tr("Another file for %1").arg(text(role)),
                       text(m_session.resources().fileOf(*now, *old).parent_path().string()),
                       tr("Pictures (*.png *.tif *.tiff *.exr *.jpg *.jpeg *.tga *.hdr);;All files (*)"));
        if (!chosen.isEmpty()) m_session.takeFile(setId, role, chosen);
    });
    connect(encoding, &QComboBox::activated, this, [this, encoding, setId, role](int i) {
        m_session.apply(edits::setEncoding(m_session.project(), setId, role,
                                           encoding->itemData(i).toString().toStdString()),
                        tr("Encoding of %1").arg(text(role)));
    });
    m_refreshers.push_back([this, file, encoding, setId, role](const StepView&) {
        const TextureSet* now = m_session.project().findSet(setId);
        const Map* found = now != nullptr ? findMap(*now, role) : nullptr;
        if (found == nullptr) return;
        encoding->setCurrentIndex(encoding->findData(text(found->encoding)));
        const auto name = text(std::filesystem::path(found->file).filename().string());
        file->setText(file->fontMetrics().elidedText(name, Qt::ElideMiddle, kFileWidth));
        file->setToolTip(tr("%1\nClick to take another file; all work is kept.")
                             .arg(text(m_session.resources().fileOf(*now, *found).string())));
    });
    row->addWidget(new QLabel(tr("Encoding"), row->parentWidget()), 1, 1);
    row->addWidget(encoding, 1, 2, 1, 2);
    addPictureRow(column, setId, role);
}

/// The pictures that a map's file has beside its colours, and the one that is chosen of them; a file that
/// holds its colours alone has none.
QStringList TunerView::picturesIn(const std::string& setId, const std::string& role) const {
    const TextureSet* set = m_session.project().findSet(setId);
    const Map* map = set != nullptr ? findMap(*set, role) : nullptr;
    QStringList names;
    if (map == nullptr) return names;
    Map colours = *map;
    colours.channels.clear();
    if (const auto info = m_session.resources().knownInfoOf(*set, colours))
        for (const std::string& other : info->others) names << text(other);
    if (const QString chosen = text(map->channels); !chosen.isEmpty() && !names.contains(chosen))
        names << chosen;
    return names;
}

/// Which picture of a file that holds several. Its row is made when the first such file comes.
void TunerView::addPictureRow(QVBoxLayout& column, const std::string& setId, const std::string& role) {
    auto* holder = new QVBoxLayout;
    holder->setContentsMargins(0, 0, 0, 0);
    column.addLayout(holder);
    const auto show = [this, holder, setId, role, box = std::make_shared<QComboBox*>(nullptr)] {
        const QStringList others = picturesIn(setId, role);
        if (*box == nullptr ? others.isEmpty() : (*box)->view()->isVisible())
            return;  // not under a hand that chooses
        if (*box == nullptr) *box = makePictureBox(*holder, setId, role);
        (*box)->clear();
        (*box)->addItem(tr("its colours"), QString());
        for (const QString& name : others) (*box)->addItem(name, name);
        const TextureSet* set = m_session.project().findSet(setId);
        const Map* map = set != nullptr ? findMap(*set, role) : nullptr;
        (*box)->setCurrentIndex(map != nullptr ? (*box)->findData(text(map->channels)) : 0);
        (*box)->parentWidget()->setVisible(!others.isEmpty());
    };
    m_refreshers.push_back([show](const StepView&) { show(); });
    m_spreadRefreshers.push_back(show);  // by then the file is known
}

QComboBox* TunerView::makePictureBox(QVBoxLayout& column, const std::string& setId, const std::string& role) {
    QGridLayout* row = addRow(column);
    keepDotColumn(*row, row->parentWidget());
    auto* picture = new QComboBox(row->parentWidget());
    picture->setObjectName(QStringLiteral("map-picture"));
    picture->setAccessibleName(tr("Picture in the file"));
    picture->setMinimumWidth(60);
    picture->setToolTip(tr("The file holds several pictures. Which of them this map is."));
    connect(picture, &QComboBox::activated, this, [this, picture, setId, role](int i) {
        m_session.apply(edits::setMapChannels(m_session.project(), setId, role,
                                              picture->itemData(i).toString().toStdString()),
                        tr("Picture of %1").arg(text(role)));
    });
    row->addWidget(new QLabel(tr("Picture"), row->parentWidget()), 0, 1);
    row->addWidget(picture, 0, 2, 1, 2);
    return picture;
}

void TunerView::addFeed(QVBoxLayout& column, const FeedSpec& feed, Kind kind) {
    QGridLayout* row = addRow(column);
    keepDotColumn(*row, row->parentWidget());
    auto* label = new QLabel(text(feed.name), row->parentWidget());
    label->setToolTip(text(feed.tip));
    label->setFixedWidth(kLabelWidth);
    row->addWidget(label, 0, 1);
    auto* button = new QPushButton(row->parentWidget());
    button->setProperty("left", true);
    button->setObjectName(QStringLiteral("feed-") + text(feed.id));
    button->setAccessibleName(tr("%1 feed").arg(text(feed.name)));
    button->setToolTip(text(feed.tip));
    QWidget* holder = row->parentWidget();
    const FeedSpec* described = &feed;  // of the catalogue, which lives as long as the program
    m_refreshers.push_back(
        [holder, described](const StepView& v) { holder->setVisible(v.isShown(*described)); });
    const std::string id = feed.id;
    const Kind wanted = feed.kind.value_or(kind);
    connect(button, &QPushButton::clicked, this, [this, button, id, wanted] {
        QMenu* menu = makeFeedMenu(m_session, m_step, id, wanted, button, m_pictures.get());
        menu->popup(button->mapToGlobal(QPoint(0, button->height() + 2)));
    });
    button->setIconSize({theme::kMenuPicture, theme::kMenuPicture});
    m_refreshers.push_back([this, button, id, tip = text(feed.tip)](const StepView& v) {
        const Feed* now = v.feed(id);
        const QString words =
            now != nullptr ? feedWords(m_session.project(), *now, m_session.steps()) : tr("none");
        button->setText(button->fontMetrics().elidedText(words, Qt::ElideMiddle, kFeedWidth));
        button->setToolTip(now != nullptr ? words + QLatin1Char('\n') + tip : tip);
    });
    m_spreadRefreshers.push_back([this, button, id] {
        const auto shown = m_session.shownStep(m_step);
        const auto joined = shown ? shown->feeds.find(id) : decltype(shown->feeds.find(id)){};
        button->setIcon(shown && joined != shown->feeds.end()
                            ? feedIcon(m_session.project(), joined->second, m_pictures.get())
                            : QIcon());
    });
    row->addWidget(button, 0, 2, 1, 2);

    // A constant is edited where it is named.
    auto* number = new NumberField({}, row->parentWidget());
    number->setAccessibleName(tr("%1 as a number").arg(text(feed.name)));
    auto* colour = new ColourField(row->parentWidget());
    equip(colour);
    joinGesture(number);
    joinGesture(colour);
    const auto setConstant = [this, id](ControlValue value, bool inGesture) {
        Feed constant;
        constant.constant = std::move(value);
        m_session.applyFeed(edits::setFeed(m_session.project(), m_step, id, constant), m_step, id, tr("Feed"),
                            inGesture ? m_gesture : 0);
    };
    connect(number, &NumberField::edited, this, [setConstant](double v, bool g) { setConstant(v, g); });
    connect(colour, &ColourField::edited, this,
            [setConstant](const Colour& c, bool g) { setConstant(c, g); });
    row->addWidget(number, 1, 3);
    row->addWidget(colour, 2, 1, 1, 3);
    m_refreshers.push_back([number, colour, id](const StepView& v) {
        const Feed* now = v.feed(id);
        const double* n = now != nullptr && now->constant ? std::get_if<double>(&*now->constant) : nullptr;
        const Colour* c = now != nullptr && now->constant ? std::get_if<Colour>(&*now->constant) : nullptr;
        number->setVisible(n != nullptr);
        colour->setVisible(c != nullptr);
        if (n != nullptr) number->setValue(*n);
        if (c != nullptr) colour->setColour(*c);
    });
}

void TunerView::tellFeeds(QVBoxLayout& column, const StepSpec& spec, const Step& shown) {
    for (const FeedSpec& feed : spec.feeds)
        if (const auto joined = shown.feeds.find(feed.id); joined != shown.feeds.end())
            column.addWidget(quietLabel(
                tr("%1: %2").arg(text(feed.name),
                                 feedWords(m_session.boardProject(), joined->second, m_session.steps())),
                column.parentWidget()));
}

}  // namespace kettle
