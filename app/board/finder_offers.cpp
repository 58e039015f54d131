#include "app/board/finder_offers.h"

#include <QObject>
#include <algorithm>

#include "core/document/layers.h"
#include "core/exchange/palette.h"
#include "core/steps/blend.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

/// Fewer letters name no mode and no line: too much would match.
constexpr qsizetype kFewestLetters = 3;
/// A line that is offered has been tried, for it must not read itself; so that a vast project costs no more.
constexpr std::size_t kMostLines = 12;

QString text(const std::string& words) {
    return QString::fromStdString(words);
}
bool mentions(const QString& sentence, const QString& words) {
    return sentence.contains(words, Qt::CaseInsensitive);
}
QString capitalised(const QString& words) {
    return words.isEmpty() ? words : words.front().toUpper() + words.mid(1);
}

/// Typed words as a blend: what is over, the mode, the amount.
struct Phrase {
    QString what;  ///< empty: a mode alone
    const BlendModeInfo* mode = nullptr;
    std::optional<double> amount;
};

/// A number of 0..1, or a share in per cent, at the end of the words, which it is taken off.
std::optional<double> takeAmount(QString& words) {
    const qsizetype at = words.lastIndexOf(QLatin1Char(' '));
    QString last = words.mid(at + 1);
    if (at < 0) return std::nullopt;
    const bool isShare = last.endsWith(QLatin1Char('%'));
    if (isShare) last.chop(1);
    bool isNumber = false;
    const double amount =
        last.replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&isNumber) / (isShare ? 100 : 1);
    if (!isNumber || amount < 0 || amount > 1) return std::nullopt;
    words.truncate(at);
    words = words.trimmed();
    return amount;
}

class Offers {
public:
    Offers(const QString& words, const Gap& gap, const OfferedLibrary& library, const Line& line)
        : m_words(words), m_gap(gap), m_library(library), m_line(line) {}

    std::vector<Offer> make(const QStringList& recent) {
        addSteps(recent);
        addJoinedSteps();
        addRecipes();
        addRamps();
        Phrase phrase{m_words, nullptr, {}};
        phrase.amount = takeAmount(phrase.what);
        addModes(phrase);
        addPatterns(phrase);
        for (const Phrase& withMode : modesIn(phrase)) {
            addPatterns(withMode);
            addLines(withMode);
        }
        addLayers();
        // What the library has of that name is meant before a line of the project.
        addLines(phrase);
        return std::move(m_offers);
    }

private:
    /// Behind all that are called so already.
    std::size_t behindNames() const {
        const auto at = std::find_if_not(m_offers.begin(), m_offers.end(),
                                         [&](const Offer& o) { return mentions(o.name, m_words); });
        return static_cast<std::size_t>(at - m_offers.begin());
    }
    void insert(std::size_t at, Offer offer) {
        m_offers.insert(m_offers.begin() + static_cast<std::ptrdiff_t>(at), std::move(offer));
    }

    void addSteps(const QStringList& recent) {
        std::vector<const StepSpec*> fitting;
        for (const StepSpec& spec : m_gap.steps)
            if (!spec.source && spec.fits(m_line.kind) && spec.type != kLayerHead && spec.type != kFill &&
                (mentions(text(spec.name), m_words) || mentions(text(spec.purpose), m_words)))
                fitting.push_back(&spec);
        // What is called so comes before what only speaks of it; then what was used last.
        const auto rank = [&](const StepSpec* spec) {
            const auto at = recent.indexOf(text(spec->type));
            return std::pair(!mentions(text(spec->name), m_words), at < 0 ? recent.size() : at);
        };
        std::stable_sort(fitting.begin(), fitting.end(),
                         [&](const StepSpec* a, const StepSpec* b) { return rank(a) < rank(b); });
        for (const StepSpec* spec : fitting)
            m_offers.push_back({text(spec->name), text(spec->purpose), newStep(*spec)});
    }
    static Step newStep(const StepSpec& spec) {
        Step step;
        step.type = spec.type;
        return step;
    }
    /// A step with a line joined to what it is for: "height to normal grain".
    void addJoinedSteps() {
        std::size_t place = behindNames();
        for (const StepSpec& spec : m_gap.steps) {
            const QString name = text(spec.name);
            const auto main = std::find_if(spec.feeds.begin(), spec.feeds.end(),
                                           [](const FeedSpec& feed) { return feed.isMain; });
            if (spec.source || !spec.fits(m_line.kind) || main == spec.feeds.end() || spec.type == kFill ||
                !m_words.startsWith(name + QLatin1Char(' '), Qt::CaseInsensitive))
                continue;
            for (const auto& [feed, words] :
                 linesCalled(m_words.mid(name.size() + 1), main->kind.value_or(m_line.kind))) {
                Step step = newStep(spec);
                step.feeds[main->id] = feed;
                insert(place++,
                       {QObject::tr("%1: %2").arg(name, words), text(spec.purpose), std::move(step)});
            }
        }
    }
    void addRecipes() {
        std::size_t first = behindNames();
        for (const Shared<Recipe>& recipe : m_library.recipes) {
            const bool isCalledSo = mentions(text(recipe->name), m_words);
            if (std::find(recipe->kinds.begin(), recipe->kinds.end(), m_line.kind) == recipe->kinds.end() ||
                !(isCalledSo || mentions(text(recipe->purpose), m_words)))
                continue;
            insert(isCalledSo ? first++ : m_offers.size(),
                   {text(recipe->name), text(recipe->purpose), recipe});
        }
    }
    void addRamps() {
        if (m_line.kind != Kind::Colour || m_words.isEmpty()) return;
        std::size_t place = behindNames();
        for (const NamedRampEntry& ramp : m_library.ramps) {
            // The colon need not be typed.
            const QString name = text(ramp.name), whole = QObject::tr("Ramp: %1").arg(name);
            if (!mentions(whole, m_words) && !mentions(QObject::tr("Ramp %1").arg(name), m_words)) continue;
            insert(place++, {whole,
                             ramp.purpose.empty() ? QObject::tr("Gives the line the colours of this ramp.")
                                                  : text(ramp.purpose),
                             ramp});
        }
    }
    bool fits(const BlendModeInfo& mode) const {
        return m_line.kind != Kind::Normal && (!mode.needsColour() || m_line.kind == Kind::Colour);
    }
    /// Blend modes by their own names: "multiply" is a Blend that multiplies.
    void addModes(const Phrase& phrase) {
        const auto blend = std::find_if(m_gap.steps.begin(), m_gap.steps.end(), [](const StepSpec& spec) {
            return spec.editor == StepEditor::BlendModes && spec.type != kFill;
        });
        if (phrase.what.size() < kFewestLetters || blend == m_gap.steps.end()) return;
        std::size_t place = behindNames();
        for (const BlendModeInfo& mode : kBlendModes) {
            const QString name = QString::fromUtf8(mode.name);
            if (!fits(mode) || !name.startsWith(phrase.what, Qt::CaseInsensitive)) continue;
            Step step = newStep(*blend);
            put(step.controls, kBlendMode(mode.mode));
            if (phrase.amount) put(step.controls, kAmount(*phrase.amount));
            insert(place++, {QObject::tr("%1: %2").arg(text(blend->name), name + amountWords(phrase)),
                             text(blend->purpose), std::move(step)});
        }
    }
    /// The readings of words with a mode before or behind what is blended over, "difference shape"
    /// and "shape difference"; as many words for the mode as there are such.
    std::vector<Phrase> modesIn(const Phrase& phrase) const {
        const QStringList words = phrase.what.split(QLatin1Char(' '), Qt::SkipEmptyParts);
        const auto joined = [&](qsizetype from, qsizetype count) {
            return words.mid(from, count).join(QLatin1Char(' '));
        };
        for (qsizetype ofMode = words.size() - 1; ofMode > 0; --ofMode)
            for (const bool isBefore : {true, false}) {
                const qsizetype others = words.size() - ofMode;
                const QString called = isBefore ? joined(0, ofMode) : joined(others, ofMode);
                if (called.size() < kFewestLetters) continue;
                for (const BlendModeInfo& mode : kBlendModes)
                    if (fits(mode) && QString::fromUtf8(mode.name).startsWith(called, Qt::CaseInsensitive))
                        return {
                            {isBefore ? joined(ofMode, others) : joined(0, others), &mode, phrase.amount}};
            }
        return {};
    }
    static QString amountWords(const Phrase& phrase) {
        return phrase.amount ? QObject::tr(", %1").arg(*phrase.amount) : QString();
    }
    Offer laidOver(const Phrase& phrase, const QString& name, const QString& purpose,
                   const std::variant<NewSource, Feed, RampedCopy>& what) const {
        const QString how = phrase.mode != nullptr ? capitalised(QString::fromUtf8(phrase.mode->name))
                                                   : QObject::tr("Laid over");
        return {QObject::tr("%1: %2").arg(how, name + amountWords(phrase)), purpose,
                LaidOver{what, phrase.mode != nullptr ? std::optional(phrase.mode->mode) : std::nullopt,
                         phrase.amount}};
    }
    /// A colour by its hex, and sources.
    void addPatterns(const Phrase& phrase) {
        std::size_t place = m_words.isEmpty() ? m_offers.size() : behindNames();
        if (const auto colours = coloursIn(phrase.what.toStdString());
            m_line.kind == Kind::Colour && phrase.what.startsWith(QLatin1Char('#')) && colours.size() == 1) {
            Feed feed;
            feed.constant = Colour{colours[0].x, colours[0].y, colours[0].z};
            insert(place++, laidOver(phrase, phrase.what.toUpper(),
                                     QObject::tr("Lays this colour over the line."), feed));
        }
        for (const StepSpec& spec : m_gap.steps) {
            if (!spec.source || !spec.fits(m_line.kind) || spec.editor == StepEditor::MapFile) continue;
            // "Laid" offers all of them.
            const QString name = text(spec.name), whole = QObject::tr("Laid over: %1").arg(name);
            if (mentions(phrase.mode != nullptr ? name : whole, phrase.what))
                insert(place++, laidOver(phrase, name, text(spec.purpose),
                                         NewSource{spec.name, newSource(spec, m_line, m_gap.index)}));
        }
    }
    /// Lines of the project for an input of a kind, and what they are called there: a colour can be read as a
    /// grey as well. Those that read this line, and would read themselves, are left out.
    std::vector<std::pair<Feed, QString>> linesCalled(const QString& words, Kind kind) const {
        std::vector<std::pair<Feed, QString>> found;
        for (const auto& line : m_gap.project.lines) {
            if (found.size() == kMostLines) break;
            if (!mentions(text(line->name), words) || line->id == m_line.id || isLayer(*line) ||
                (line->kind == Kind::Normal) != (kind == Kind::Normal))
                continue;
            Feed feed;
            feed.line = line->id;
            const bool asGrey = kind == Kind::Scalar && line->kind == Kind::Colour;
            if (asGrey) feed.component = idOf(Component::Luminance);
            std::string step;
            if (!edits::layOver(m_gap.project, m_gap.look, m_line.id, m_gap.index, {feed, {}, {}}, step))
                continue;
            const QString name = text(line->name);
            found.emplace_back(feed, asGrey ? QObject::tr("%1 as grey").arg(name) : name);
        }
        return found;
    }
    void addLines(const Phrase& phrase) {
        if (phrase.what.size() < kFewestLetters - 1) return;
        std::size_t place = behindNames();
        const QString copy = QObject::tr("What comes in, on a ramp");
        if (m_line.kind != Kind::Normal && mentions(copy, phrase.what) &&
            phrase.what.size() >= kFewestLetters)
            insert(place++,
                   laidOver(phrase, copy, QObject::tr("Lays its own copy over, on a ramp that deepens it."),
                            RampedCopy{}));
        for (const auto& [feed, name] : linesCalled(phrase.what, m_line.kind))
            insert(place++, laidOver(phrase, name, purposeOf(*m_gap.project.findLine(feed.line)), feed));
    }
    QString purposeOf(const Line& line) const {
        const Surface* surface = m_gap.project.findSurface(line.surface);
        return surface != nullptr && line.surface != m_line.surface
                   ? QObject::tr("Lays this line of %1 over.").arg(text(surface->name))
                   : QObject::tr("Lays this line over.");
    }
    void addLayers() {
        if (!m_gap.layersBehind) return;
        // First where they are asked for by name, else below the steps.
        std::size_t at = m_words.size() > 1 && QObject::tr("Layer").startsWith(m_words, Qt::CaseInsensitive)
                             ? 0
                             : m_offers.size();
        const auto offer = [&](const QString& name, const QString& purpose, auto what) {
            const QString whole = QObject::tr("Layer: %1").arg(name);
            if (mentions(whole, m_words)) insert(at++, {whole, purpose, std::move(what)});
        };
        offer(QObject::tr("values"),
              QObject::tr("One mask for several channels, with a colour, numbers, flat normals."),
              NewLayer{NewLayer::Of::Values, {}});
        offer(QObject::tr("stamps"), QObject::tr("Pictures with alpha, laid on where their alpha says."),
              NewLayer{NewLayer::Of::Stamps, {}});
        for (const auto& set : m_gap.project.sets)
            offer(text(set->name), QObject::tr("Lays all its maps over the channels, with one mask."),
                  NewLayer{NewLayer::Of::Set, set->id});
        for (const KeptLayer& layer : m_library.layers) offer(text(layer.name), text(layer.purpose), layer);
    }

    const QString m_words;
    const Gap& m_gap;
    const OfferedLibrary& m_library;
    const Line& m_line;
    std::vector<Offer> m_offers;
};

}  // namespace

std::vector<Offer> offersFor(const QString& words, const Gap& gap, const OfferedLibrary& library,
                             const QStringList& recent) {
    const Line* line = gap.project.findLine(gap.line);
    if (line == nullptr) return {};
    return Offers(words.simplified(), gap, library, *line).make(recent);
}

QString whyNothing(const QString& words, const Gap& gap) {
    const Line* line = gap.project.findLine(gap.line);
    const QString kind = QString::fromUtf8(nameOf(line != nullptr ? line->kind : Kind::Colour));
    const QString wanted = words.simplified();
    if (wanted.isEmpty()) return QObject::tr("No step fits a %1 line.").arg(kind);
    for (const StepSpec& spec : gap.steps)
        if (text(spec.name).startsWith(wanted, Qt::CaseInsensitive))
            return QObject::tr("%1 does not fit a %2 line.").arg(text(spec.name), kind);
    return QObject::tr("Nothing fits a %1 line by that name.").arg(kind);
}

}  // namespace kettle
