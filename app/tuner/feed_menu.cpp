#include "app/tuner/feed_menu.h"

#include <QMenu>

#include "app/session/session.h"
#include "core/document/edits.h"

namespace kettle {
namespace {

QString stepName(const Step& step) {
    const StepSpec* spec = findStepSpec(step.type);
    return QString::fromStdString(spec != nullptr ? spec->name : step.type);
}

}  // namespace

QString feedWords(const Project& project, const Feed& feed) {
    if (feed.constant) {
        const double* number = std::get_if<double>(&*feed.constant);
        return number != nullptr ? QObject::tr("a number") : QObject::tr("a colour");
    }
    const Line* line = project.findLine(feed.line);
    QString words = line != nullptr ? QString::fromStdString(line->name) : QObject::tr("missing line");
    if (!feed.after.empty())
        if (const auto place = project.findStep(feed.after))
            words += QObject::tr(" after %1").arg(stepName(project.stepAt(*place)));
    if (!feed.component.empty()) words += QLatin1Char(' ') + QString::fromStdString(feed.component);
    return words;
}

namespace {

/// A new line for this feed: the sources that fit, and the set's maps.
void addNewSources(QMenu& menu, Session& session, const std::string& step, const std::string& feedId,
                   Kind wanted) {
    auto* sub = menu.addMenu(QObject::tr("New"));
    const auto add = [&](QMenu* to, const QString& words, const std::string& lineName, Step source) {
        to->addAction(words, to, [&session, step, feedId, wanted, lineName, source] {
            session.apply(edits::feedFromNewLine(session.project(), step, feedId, lineName, wanted, source),
                          QObject::tr("New %1").arg(QString::fromStdString(lineName)));
        });
    };
    const auto place = session.project().findStep(step);
    for (const StepSpec& spec : catalogue()) {
        if (!spec.source || !spec.fits(wanted) || spec.type == "map") continue;
        Step source;
        source.type = spec.type;
        // What looks at a colour looks at what comes into this step, if that is one.
        if (place && place->step > 0 && session.project().lines[place->line]->kind == Kind::Colour)
            for (const FeedSpec& f : spec.feeds)
                if (f.id == "of") {
                    const Line& line = *session.project().lines[place->line];
                    source.feeds["of"].line = line.id;
                    source.feeds["of"].after = line.steps[place->step - 1]->id;
                }
        add(sub, QString::fromStdString(spec.name), spec.name, std::move(source));
    }
    for (const auto& set : session.project().sets) {
        auto* maps = sub->addMenu(QObject::tr("Map of %1").arg(QString::fromStdString(set->name)));
        for (const Map& map : set->maps) {
            Step source;
            source.type = "map";
            source.set = set->id;
            source.role = map.role;
            add(maps, QString::fromStdString(map.role), map.role, std::move(source));
        }
    }
}

}  // namespace

QMenu* makeFeedMenu(Session& session, const std::string& step, const std::string& feedId, Kind wanted,
                    QWidget* parent, const CardPictures* pictures) {
    auto* menu = new QMenu(parent);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto join = [&session, step, feedId](std::optional<Feed> feed) {
        session.apply(edits::setFeed(session.project(), step, feedId, std::move(feed)),
                      QObject::tr("Feed %1").arg(QString::fromStdString(feedId)));
    };
    const Project& project = session.project();
    const auto iconOf = [pictures](const std::string& shown) {
        if (pictures == nullptr) return QIcon();
        const auto at = pictures->find(shown);
        return at == pictures->end() ? QIcon() : QIcon(QPixmap::fromImage(at->second.thumbnail));
    };
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
    addNewSources(*menu, session, step, feedId, wanted);
    menu->addSeparator();
    for (const auto& line : project.lines) {
        if (line->kind == Kind::Normal && wanted != Kind::Normal) continue;
        const QString name = QString::fromStdString(line->name);
        Feed whole;
        whole.line = line->id;
        const bool needsComponent = wanted == Kind::Scalar && line->kind == Kind::Colour;
        if (!needsComponent && line->steps.size() < 2) {
            const QIcon icon = line->steps.empty() ? QIcon() : iconOf(line->steps.back()->id);
            if (possible(whole)) menu->addAction(icon, name, menu, [join, whole] { join(whole); });
            continue;
        }
        auto* sub = new QMenu(name, menu);
        if (!line->steps.empty()) sub->setIcon(iconOf(line->steps.back()->id));
        const auto addPlace = [&](const QString& words, Feed feed) {
            if (!possible(feed)) return;
            if (!needsComponent) {
                const std::string shown =
                    feed.after.empty() && !line->steps.empty() ? line->steps.back()->id : feed.after;
                sub->addAction(iconOf(shown), words, menu, [join, feed] { join(feed); });
                return;
            }
            auto* components = sub->addMenu(words);
            for (const Choice& c : componentChoices()) {
                feed.component = c.id;
                components->addAction(QString::fromStdString(c.name), menu, [join, feed] { join(feed); });
            }
        };
        addPlace(QObject::tr("At its end"), whole);
        for (const auto& tap : line->steps) {
            Feed feed = whole;
            feed.after = tap->id;
            addPlace(QObject::tr("After %1").arg(stepName(*tap)), feed);
        }
        if (sub->isEmpty())
            delete sub;
        else
            menu->addMenu(sub);
    }
    return menu;
}

}  // namespace kettle
