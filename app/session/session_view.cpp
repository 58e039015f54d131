// What the session shows beside the project itself: one step in place of the surface, before and after, the
// comparison, kept pictures, and channels that are off.
#include <QFileInfo>

#include "app/session/session.h"
#include "core/colour/encoding.h"
#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/layer_views.h"
#include "core/document/sources.h"
#include "core/engine/source_files.h"
#include "core/image/map_image.h"
#include "core/shading/display.h"
#include "core/steps/height_to_normal.h"

namespace kettle {

void Session::setLookHere(std::optional<LookHere> here) {
    if (here == m_lookHere) return;
    m_lookHere = std::move(here);
    Q_EMIT viewChanged();
}

void Session::setShownComponent(std::optional<Component> component) {
    if (component == m_component) return;
    m_component = component;
    Q_EMIT viewChanged();
}

LookHere Session::surfacePlace() const {
    if (m_lookHere) return *m_lookHere;
    const Line* chosen = selectedLine();
    const std::string surface = chosen != nullptr ? chosen->surface : std::string();
    const Line* line = project().lineOfChannel(channel::kBaseColour, surface);
    if (line == nullptr) line = project().lineOfChannel(channel::kBaseColour);
    if (line == nullptr && !project().lines.empty()) line = &*project().lines.front();
    return {line != nullptr ? line->id : std::string(), {}, {}};
}

void Session::toggleLookHere() {
    const Line* line = selectedLine();
    if (line == nullptr) return;
    const LookHere here{line->id, m_step, {}};
    setLookHere(m_lookHere == here ? std::nullopt : std::optional(here));
}

void Session::setShowBefore(bool before) {
    if (before == m_before) return;
    m_before = before;
    Q_EMIT viewChanged();
}

Project Session::shownProject() const {
    const bool isInside = isInner(m_step) || (m_lookHere && isInner(m_lookHere->after));
    const Project& from = isInside ? picturedProject() : project();
    if (!m_before || m_step.empty()) return subjectOf(from);
    auto without = edits::setBypass(from, m_look, m_step, true);
    return subjectOf(without ? *without : from);
}

Project Session::subjectOf(Project project) const {
    if (m_layerView == LayerView::UpTo) project = upToLayer(project, m_viewedLayer);
    if (m_layerView == LayerView::Below) project = belowLayer(project, m_viewedLayer);
    if (m_layerView == LayerView::Only) project = onlyLayer(project, m_viewedLayer);
    if (m_layerView == LayerView::Mask) project = withMaskShown(project, m_viewedLayer);
    if (!m_showsCard) return project;
    for (Shared<TextureSet>& set : project.sets) {
        TextureSet changed = *set;
        for (Map& map : changed.maps)
            if (isColourRole(map.role)) {
                map.file = m_testCard.toStdString();
                map.encoding = encoding::kSrgb;
            }
        set = Shared<TextureSet>(std::move(changed));
    }
    return project;
}

void Session::showTestCard(bool on) {
    if (on == m_showsCard || (on && !hasTestCard())) return;
    m_showsCard = on;
    Q_EMIT viewChanged();
}

void Session::compare(std::optional<Comparison> with) {
    m_comparison = std::move(with);
    if (m_comparison && m_comparison->with != Comparison::With::File && !otherSide()) m_comparison.reset();
    Q_EMIT viewChanged();
}

void Session::setCompareWay(CompareWay way) {
    if (!m_comparison || m_comparison->way == way) return;
    m_comparison->way = way;
    Q_EMIT viewChanged();
}

void Session::swapSides() {
    if (!m_comparison) return;
    m_comparison->isSwapped = !m_comparison->isSwapped;
    Q_EMIT viewChanged();
}

void Session::compareWithFile(const QString& file) {
    Q_EMIT progress(tr("Reading %1 …").arg(QFileInfo(file).fileName()));
    m_pictureReader.read(file);
}

void Session::tookPicture(const QString& file, const Result<QImage>& picture) {
    if (!picture) {
        Q_EMIT told(QString::fromStdString(picture.error().sentence), true);
        return;
    }
    Comparison with = m_comparison.value_or(Comparison{});
    with.with = Comparison::With::File;
    with.file = file;
    with.picture = *picture;
    compare(std::move(with));
    Q_EMIT told(tr("Compared with %1.").arg(QFileInfo(file).fileName()), false);
}

std::optional<PreviewSide> Session::otherSide() const {
    if (!m_comparison) return std::nullopt;
    const bool isInside = isInner(m_step) || (m_lookHere && isInner(m_lookHere->after));
    PreviewSide side{subjectOf(isInside ? picturedProject() : project()), {}, m_lookHere};
    switch (m_comparison->with) {
        case Comparison::With::AsReceived:
            return side;
        case Comparison::With::Look:
            side.look = m_comparison->look;
            return project().findLook(side.look) != nullptr ? std::optional(side) : std::nullopt;
        case Comparison::With::BeforeStep: {
            side.look = m_look;
            auto without = edits::setBypass(projectWith(m_step), m_look, m_step, true);
            if (without) side.project = subjectOf(std::move(*without));
            return side;
        }
        case Comparison::With::Kept:
            for (const KeptPicture& kept : m_kept)
                if (kept.id == m_comparison->kept) return kept.side;
            return std::nullopt;
        case Comparison::With::File:
            break;
    }
    return std::nullopt;
}

QString Session::sideName(bool isOther) const {
    const auto nameOf = [&](const std::string& look) {
        const Look* found = project().findLook(look);
        return found != nullptr ? QString::fromStdString(found->name) : baseName();
    };
    if (!isOther) return nameOf(m_look);
    if (!m_comparison) return {};
    switch (m_comparison->with) {
        case Comparison::With::AsReceived:
            return baseName();
        case Comparison::With::Look:
            return nameOf(m_comparison->look);
        case Comparison::With::BeforeStep: {
            const auto shown = shownStep(m_step);
            const StepSpec* spec = shown ? steps().find(shown->type) : nullptr;
            return spec == nullptr ? tr("Before") : tr("Before %1").arg(QString::fromStdString(spec->name));
        }
        case Comparison::With::Kept:
            for (const KeptPicture& kept : m_kept)
                if (kept.id == m_comparison->kept) return kept.name;
            return {};
        case Comparison::With::File:
            break;
    }
    return QFileInfo(m_comparison->file).fileName();
}

void Session::keepPicture(const QImage& picture, const Camera& camera) {
    KeptPicture kept;
    kept.id = ++m_lastKept;
    kept.name = tr("%1, kept %2").arg(sideName(false)).arg(kept.id);
    kept.picture = picture;
    kept.side = {project(), m_look, m_lookHere};
    kept.camera = camera;
    m_kept.push_back(std::move(kept));
    Q_EMIT keptChanged();
}

void Session::dropKept(int id) {
    std::erase_if(m_kept, [id](const KeptPicture& kept) { return kept.id == id; });
    if (m_comparison && m_comparison->with == Comparison::With::Kept && m_comparison->kept == id) compare({});
    Q_EMIT keptChanged();
}

bool Session::savePicture(const QImage& picture, const QString& file, QString& problem) {
    const QImage rgb = picture.convertToFormat(QImage::Format_RGB888);
    PixelBuffer pixels = PixelBuffer::make(rgb.width(), rgb.height(), 3, Depth::U8);
    for (int y = 0; y < rgb.height(); ++y)
        std::copy_n(rgb.constScanLine(y), static_cast<std::size_t>(rgb.width()) * 3,
                    pixels.row<std::uint8_t>(y));
    SourceFiles sources(project(), resources());
    if (!m_file.isEmpty()) sources.add(m_file.toStdString());
    const auto done = writeImage(file.toStdString(), pixels, FileFormat::Png8, encoding::kSrgb, {}, sources);
    if (!done) problem = QString::fromStdString(done.error().sentence);
    return done.has_value();
}

void Session::takeKept(int id) {
    for (const KeptPicture& kept : m_kept)
        if (kept.id == id) {
            const std::string look = kept.side.look;
            if (apply(kept.side.project, tr("Go back to a kept picture"))) setLook(look);
            return;
        }
}

void Session::toggleChannel(const std::string& channel) {
    if (channel.empty()) return;
    if (m_channelsOff.erase(channel) == 0) m_channelsOff.insert(channel);
    Q_EMIT viewChanged();
}

void Session::allChannelsOn() {
    if (m_channelsOff.empty()) return;
    m_channelsOff.clear();
    Q_EMIT viewChanged();
}

namespace {

/// A source that changes nothing, and what it begins with where it is tried: where neutral is nothing at all,
/// a value from which it is seen.
struct FirstStep {
    Step step;
    Controls begins;  ///< at most one
};

FirstStep firstStepOf(const ChannelSpec& channel, std::string id) {
    FirstStep first;
    first.step = plainSource(channel.kind, channel.neutral);
    first.step.id = std::move(id);
    first.begins = plainSource(channel.kind, channel.start).controls;
    return first;
}

}  // namespace

void Session::addChannelLine(const std::string& channel, const std::string& surface) {
    const ChannelSpec* info = findChannel(channel);
    if (info == nullptr || project().lineOfChannel(channel, surface) != nullptr) return;
    const Target to = target();
    Line line;
    line.id = edits::freshId(to.project, channel);
    line.name = info->name;
    line.kind = info->kind;
    line.channel = channel;
    line.surface = surface;
    const FirstStep first = firstStepOf(*info, edits::freshId(to.project, channel + "-value"));
    line.steps.emplace_back(first.step);
    const std::string id = line.id;
    std::string chosen = first.step.id;
    auto next = edits::addLine(to.project, std::move(line));
    // What is tried in a look is in that look: the base, and so every other look, has the neutral value.
    for (const auto& [control, value] : first.begins)
        if (next) next = edits::setControl(*next, to.look, first.step.id, control, value);
    if (const Line* height = to.project.lineOfChannel(channel::kHeight, surface);
        next && height != nullptr && info->kind == Kind::Normal) {
        // What the height line carries is the relief that is there to begin with.
        Step relief;
        relief.id = chosen = edits::freshId(*next, "relief");
        relief.type = kHeightToNormal;
        relief.feeds[kReliefHeight.id].line = height->id;
        next = edits::insertStep(*next, to.look, id, 1, std::move(relief));
    }
    if (applyTo(to, std::move(next), tr("Add the line %1").arg(QString::fromLatin1(info->name))))
        selectStep(chosen);
}

}  // namespace kettle
