#include "app/tuner/feed_menu.h"

#include <QMenu>
#include <QPainter>

#include "app/session/session.h"
#include "app/style/theme.h"
#include "core/colour/encoding.h"
#include "core/document/edits.h"
#include "core/steps/map.h"

namespace kettle {
namespace {

QString stepName(const Step& step, const Catalogue& steps) {
    const StepSpec* spec = steps.find(step.type);
    return QString::fromStdString(spec != nullptr ? spec->name : step.type);
}

}  // namespace

QString feedWords(const Project& project, const Feed& feed, const Catalogue& steps) {
    if (feed.constant) {
        const double* number = std::get_if<double>(&*feed.constant);
        return number != nullptr ? QObject::tr("a number") : QObject::tr("a colour");
    }
    const Line* line = project.findLine(feed.line);
    QString words = line != nullptr ? QString::fromStdString(line->name) : QObject::tr("missing line");
    if (!feed.after.empty())
        if (const auto place = project.findStep(feed.after))
            words += QObject::tr(" after %1").arg(stepName(project.stepAt(*place), steps));
    if (!feed.component.empty()) words += QLatin1Char(' ') + QString::fromStdString(feed.component);
    return words;
}

QIcon feedIcon(const Project& project, const Feed& feed, const CardPictures* pictures) {
    QImage shown;
    QColor plain;
    if (feed.constant) {
        const Colour* c = std::get_if<Colour>(&*feed.constant);
        if (c == nullptr) return {};
        plain = QColor(QString::fromStdString(hexOfLinear(c->r, c->g, c->b)));
    } else {
        const Line* line = project.findLine(feed.line);
        if (line == nullptr || line->steps.empty() || pictures == nullptr) return {};
        const CardPicture* joined = pictures->find(feed.after.empty() ? line->steps.back()->id : feed.after);
        if (joined == nullptr) return {};
        shown = joined->thumbnail;
    }
    // Twice as fine, for screens that are; with an edge, since a white map on white paper is no picture.
    constexpr int kFine = 2;
    const QSize size(theme::kMenuPicture, theme::kMenuPicture);
    QPixmap pixmap(size * kFine);
    pixmap.setDevicePixelRatio(kFine);
    QPainter p(&pixmap);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRect area(QPoint(0, 0), size);
    if (shown.isNull())
        p.fillRect(area, plain);
    else
        p.drawImage(area, shown,
                    QRect((shown.width() - shown.height()) / 2, 0, shown.height(), shown.height()));
    p.setPen(theme::kEdge);
    p.drawRect(area.adjusted(0, 0, -1, -1));
    return QIcon(pixmap);
}

namespace {

/// A new line for this feed: the sources that fit, and the set's maps.
void addNewSources(QMenu& menu, Session& session, const std::string& step, const std::string& feedId,
                   Kind wanted) {
    auto* sub = menu.addMenu(QObject::tr("New"));
    const auto add = [&](QMenu* to, const QString& words, const std::string& lineName, const Step& source) {
        to->addAction(words, to, [&session, step, feedId, wanted, lineName, source] {
            session.feedFromNew(step, feedId, lineName, wanted, source);
        });
    };
    const auto place = session.project().findStep(step);
    for (const StepSpec& spec : session.steps()) {
        if (!spec.source || !spec.fits(wanted) || spec.editor == StepEditor::MapFile) continue;
        Step source;
        source.type = spec.type;
        if (place) source = newSource(spec, *session.project().lines[place->line], place->step);
        add(sub, QString::fromStdString(spec.name), spec.name, source);
    }
    for (const auto& set : session.project().sets) {
        auto* maps = sub->addMenu(QObject::tr("Map of %1").arg(QString::fromStdString(set->name)));
        for (const Map& map : set->maps) {
            // Where its content is, is found when it is chosen: that may read the map.
            const auto purpose =
                feedId == kMask.id || feedId == kWhere.id ? PicturePurpose::Mask : PicturePurpose::Grey;
            maps->addAction(QString::fromStdString(map.role), maps,
                            [&session, step, feedId, wanted, purpose, id = set->id, role = map.role] {
                                session.feedFromNew(step, feedId, role, wanted,
                                                    session.newMapStep(id, role, wanted, purpose));
                            });
        }
    }
}

}  // namespace

QMenu* makeFeedMenu(Session& session, const std::string& step, const std::string& feedId, Kind wanted,
                    QWidget* parent, const CardPictures* pictures) {
    auto* menu = new QMenu(parent);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto join = [&session, step, feedId](std::optional<Feed> feed) {
        session.joinFeed(step, feedId, std::move(feed));
    };
    const Project& project = session.project();
    const auto iconOf = [&](const Feed& feed) { return feedIcon(project, feed, pictures); };
    const auto possible = [&](const Feed& feed) {
        return edits::setFeed(project, step, feedId, feed).has_value();
    };
    menu->addAction(QObject::tr("None"), menu, [join] { join(std::nullopt); });
    menu->addAction(
        wanted == Kind::Scalar ? QObject::tr("A number") : QObject::tr("A colour"), menu, [join, wanted] {
            Feed feed;
            feed.constant =
                wanted == Kind::Scalar ? ControlValue(0.5) : ControlValue(Colour{0.5f, 0.5f, 0.5f});
            join(feed);
        });
    const auto place = project.findStep(step);
    const bool hasBefore = place && place->step > 0 && project.lines[place->line]->kind == wanted;
    if (hasBefore && feedId == kOver.id)
        menu->addAction(QObject::tr("What comes in, on a ramp"), menu,
                        [&session, step, feedId] { session.feedFromRampedCopy(step, feedId); });
    addNewSources(*menu, session, step, feedId, wanted);
    menu->addSeparator();
    for (const auto& line : project.lines) {
        if (line->kind == Kind::Normal && wanted != Kind::Normal) continue;
        const QString name = QString::fromStdString(line->name);
        Feed whole;
        whole.line = line->id;
        const bool needsComponent = wanted == Kind::Scalar && line->kind == Kind::Colour;
        if (!needsComponent && line->steps.size() < 2) {
            if (possible(whole)) menu->addAction(iconOf(whole), name, menu, [join, whole] { join(whole); });
            continue;
        }
        if (needsComponent) {
            // Displayed luminance, the first component, is the usual choice: one click instead of three.
            Feed grey = whole;
            grey.component = idOf(Component::Luminance);
            if (possible(grey))
                menu->addAction(iconOf(grey), QObject::tr("%1 as grey").arg(name), menu,
                                [join, grey] { join(grey); });
        }
        auto* sub = new QMenu(name, menu);
        sub->setIcon(iconOf(whole));
        const auto addPlace = [&](const QString& words, Feed feed) {
            if (!possible(feed)) return;
            if (!needsComponent) {
                sub->addAction(iconOf(feed), words, menu, [join, feed] { join(feed); });
                return;
            }
            auto* components = sub->addMenu(words);
            for (const Option<Component>& c : kComponents) {
                feed.component = c.id;
                components->addAction(QString::fromLatin1(c.name), menu, [join, feed] { join(feed); });
            }
        };
        addPlace(QObject::tr("At its end"), whole);
        for (const auto& tap : line->steps) {
            Feed feed = whole;
            feed.after = tap->id;
            addPlace(QObject::tr("After %1").arg(stepName(*tap, session.steps())), feed);
        }
        if (sub->isEmpty())
            delete sub;
        else
            menu->addMenu(sub);
    }
    return menu;
}

}  // namespace kettle
