// What the pictures' thread measures beside painting: probes, colours, transfers, checks, objects, and things
// to try.
#include "app/pictures/picture_service.h"
#include "core/analysis/sampling.h"

namespace kettle {

void PictureService::makeTransfer(const TransferAsked& asked) {
    const auto made =
        blendTransfer(asked.project, asked.look, asked.step, static_cast<float>(asked.place.x()),
                      static_cast<float>(asked.place.y()), *asked.resources);
    Q_EMIT transferReady(asked.number, made ? std::make_shared<const BlendTransfer>(*made) : nullptr,
                         made ? QString() : QString::fromStdString(made.error().sentence));
}

void PictureService::makeChecks(const Asked& asked, const CancelToken& cancel) {
    auto findings = std::make_shared<const std::vector<Finding>>(
        checkProject(asked.project, asked.look, *asked.resources, cancel));
    if (!cancel.isCancelled()) Q_EMIT checksReady(asked.number, findings);
}

void PictureService::makeColour(const ColourAsked& asked) {
    const auto made =
        meanColour(asked.project, asked.look, asked.line, asked.after, asked.area, *asked.resources);
    if (made)
        Q_EMIT colourReady(asked.number, *made);
    else
        Q_EMIT colourFailed(asked.number, QString::fromStdString(made.error().sentence));
}

std::optional<ProbeAnswer> PictureService::probeAt(const ProbeAsked& asked) const {
    ProbeAnswer answer;
    answer.u = asked.u;
    answer.v = asked.v;
    const auto at = [&](const std::string& step) {
        return probe(asked.project, asked.look, asked.line, step, static_cast<float>(asked.u),
                     static_cast<float>(asked.v), *asked.resources);
    };
    auto after = at(asked.step);
    if (!after) return std::nullopt;
    answer.after = *after;
    const Line* line = asked.project.findLine(asked.line);
    for (std::size_t i = 1; line != nullptr && i < line->steps.size(); ++i)
        if (line->steps[i]->id == asked.step)
            if (auto before = at(line->steps[i - 1]->id)) {
                answer.before = *before;
                answer.hasBefore = true;
            }
    return answer;
}

void PictureService::makeProbe(const ProbeAsked& asked) {
    if (const auto answer = probeAt(asked)) Q_EMIT probeReady(*answer);
}

void PictureService::makeProbes(const ProbesAsked& asked) {
    auto answers = std::make_shared<std::vector<ProbeAnswer>>();
    for (const QPointF& place : asked.places) {
        const auto answer = probeAt({asked, asked.line, asked.step, place.x(), place.y()});
        answers->push_back(answer ? *answer : ProbeAnswer{});
    }
    Q_EMIT probesReady(asked.number, answers);
}

std::uint64_t PictureService::askObjects(ObjectsFor whom, Project project, std::string look, std::string line,
                                         std::string after, const Resources& resources) {
    const std::lock_guard lock(m_mutex);
    (whom == ObjectsFor::List ? m_objects : m_copies) =
        ObjectsAsked{{std::move(project), std::move(look),
                      std::make_shared<const Resources>(resources.hurried()), ++m_numbers},
                     std::move(line),
                     std::move(after)};
    m_wake.notify_all();
    return m_numbers;
}

std::uint64_t PictureService::askTries(std::vector<Try> tries, std::string look, const Resources& resources) {
    const std::lock_guard lock(m_mutex);
    m_tries =
        TriesAsked{{{}, std::move(look), std::make_shared<const Resources>(resources.hurried()), ++m_numbers},
                   std::move(tries)};
    m_nextTry = 0;
    m_wake.notify_all();
    return m_numbers;
}

void PictureService::makeObjects(const ObjectsAsked& asked) {
    auto colours = std::make_shared<ObjectColours>();
    const ViewSettings& view = asked.project.view;
    const auto scene = m_scenes->load(view.model, view.unit);
    if (!scene) return static_cast<void>(Q_EMIT objectsReady(asked.number, nullptr));
    colours->scene = *scene;
    const Mesh& mesh = (*scene)->mesh();
    colours->objects = objectsOf(mesh);
    if (const Line* line = asked.project.findLine(asked.line); line != nullptr) {
        colours->kind = line->kind;
        const PointSet points = objectPoints(mesh, colours->objects);
        const Sampled s = sampleWants(asked.project, asked.project.findLook(asked.look),
                                      {{asked.line, asked.after, line->kind == Kind::Scalar ? 1 : 3}},
                                      *asked.resources, points, m_all);
        if (m_all.isCancelled()) return;
        for (std::size_t i = 0; i < points.size(); ++i) {
            const std::size_t last = line->kind == Kind::Scalar ? 0 : 1;
            const Vec3 value{s.plane(0, 0)[i], s.plane(0, last)[i], s.plane(0, 2 * last)[i]};
            (i < colours->objects.size() ? colours->ofObjects : colours->ofParts).push_back(value);
        }
    }
    Q_EMIT objectsReady(asked.number, colours);
}

void PictureService::makeNextTry(std::unique_lock<std::mutex>& lock) {
    if (m_nextTry >= m_tries->tries.size()) return m_tries.reset();
    const Try one = m_tries->tries[m_nextTry++];
    const auto resources = m_tries->resources;
    const std::string look = m_tries->look;
    const std::uint64_t number = m_tries->number;
    lock.unlock();
    FlatRequest request;
    request.line = one.line, request.after = one.after;
    request.width = kTryWidth, request.height = kTryHeight;
    // A quarter of the texture's square, so that what a step does is seen at this size.
    request.left = 0.25, request.right = 0.75, request.bottom = 1.0 / 3, request.top = 2.0 / 3;
    const auto pixels = m_tryPainter.paint(one.project, look, request, *resources, m_all);
    if (!pixels.empty()) Q_EMIT tryReady(number, one.key, toImage(pixels, kTryWidth, kTryHeight));
    lock.lock();
}

}  // namespace kettle
