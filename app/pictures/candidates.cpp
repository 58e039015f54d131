// The service's candidates: many sides of one view, from coarse to fine, and how far each is from the first.
#include "app/pictures/picture_service.h"
#include "core/analysis/picture_difference.h"

namespace kettle {

std::uint64_t PictureService::askCandidates(PreviewRequest request, const Resources& resources) {
    return submit([&](std::uint64_t number) {
        ModelAsked asked;
        asked.resources = std::make_shared<const Resources>(resources.hurried());
        asked.number = number;
        // Where the view is known the full pictures come at once.
        const bool isKnown =
            m_candidatesSize == QSize(request.width, request.height) && m_candidatesCamera == request.camera;
        m_candidatesSize = QSize(request.width, request.height);
        m_candidatesCamera = request.camera;
        asked.stage = isKnown ? 1 : 0;
        asked.request = std::move(request);
        m_candidates = std::move(asked);
    });
}

void PictureService::dropCandidates() {
    const std::lock_guard lock(m_mutex);
    m_candidates.reset();
}

bool PictureService::serveCandidates(bool isStopped, std::unique_lock<std::mutex>& lock) {
    const ModelAsked asked = *m_candidates;
    const CancelToken cancel = isStopped ? m_fine : m_all;
    lock.unlock();
    makeCandidates(asked, cancel);
    lock.lock();
    return true;
}

void PictureService::makeCandidates(const ModelAsked& asked, const CancelToken& cancel) {
    const auto now = m_candidatesPreview.render(asked.request, *asked.resources, asked.stage, cancel);
    const bool cancelled = !now && now.error().kind == ErrorKind::Cancelled;
    {
        const std::lock_guard lock(m_mutex);
        if (m_candidates && m_candidates->number == asked.number) {
            if (cancelled)
                m_candidates->stage = 1;
            else if (!now || asked.stage == Preview::kLastStage)
                m_candidates.reset();
            else
                m_candidates->stage = asked.stage + 1;
        }
    }
    if (cancelled) return;
    auto made = std::make_shared<CandidatePictures>();
    if (!now) {
        made->problem = QString::fromStdString(now.error().sentence);
        Q_EMIT candidatesReady(asked.number, made);
        return;
    }
    const std::vector<std::uint8_t>& covered = m_candidatesPreview.covered();
    made->stage = asked.stage;
    made->now = toImage(now->pixels, now->width, now->height);
    for (const Picture& other : m_candidatesPreview.others()) {
        made->all.push_back(toImage(other.pixels, other.width, other.height));
        made->distances.push_back(
            differenceOfPictures(now->pixels.data(), other.pixels.data(), other.pixels.size(), covered.data())
                .mean);
    }
    if (const auto& problems = m_candidatesPreview.problems(); !problems.empty())
        made->problem = QString::fromStdString(problems.front());
    Q_EMIT candidatesReady(asked.number, made);
}

}  // namespace kettle
