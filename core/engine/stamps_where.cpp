#include "core/engine/stamps_where.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <mutex>
#include <utility>

#include "core/engine/run.h"
#include "core/engine/stamps.h"

namespace kettle {
namespace {

std::atomic<std::uint64_t> ids{0};

bool areAlike(const ResolvedMaps& a, const ResolvedMaps& b) {
    const auto isSameHole = [](const ResolvedMaps::Hole& x, const ResolvedMaps::Hole& y) {
        return x.neutral == y.neutral;
    };
    return a.maps == b.maps && a.fields == b.fields && a.model == b.model && a.position == b.position &&
           a.normal == b.normal && a.size == b.size && a.texels == b.texels && a.wheres == b.wheres &&
           std::equal(a.holes.begin(), a.holes.end(), b.holes.begin(), b.holes.end(), isSameHole);
}

}  // namespace

StampsWhere::StampsWhere(std::shared_ptr<const Program> program, ResolvedMaps maps)
    : m_program(std::move(program)), m_maps(std::move(maps)), m_id(++ids) {}

bool StampsWhere::isOf(const Program& program, const ResolvedMaps& maps) const {
    return m_program->computesAs(program) && areAlike(m_maps, maps);
}

std::shared_ptr<const StampsWhere> StampsWhere::of(std::shared_ptr<const Program> program,
                                                   ResolvedMaps maps) {
    static std::mutex mutex;
    static std::vector<std::weak_ptr<const StampsWhere>> known;
    const std::lock_guard lock(mutex);
    std::erase_if(known, [](const auto& one) { return one.expired(); });
    for (const auto& one : known)
        if (auto same = one.lock(); same != nullptr && same->isOf(*program, maps)) return same;
    std::shared_ptr<const StampsWhere> made(new StampsWhere(std::move(program), std::move(maps)));
    known.push_back(made);
    return made;
}

std::vector<bool> StampsWhere::lie(const Placed& placed, const std::vector<StampCell>& stamps) const {
    std::vector<bool> lying(stamps.size(), true);
    // Pieces that run on the thread that asks: it has others waiting for it.
    constexpr std::size_t kPiece = 4096;
    for (std::size_t first = 0; first < stamps.size(); first += kPiece) {
        const std::size_t count = std::min(kPiece, stamps.size() - first);
        PointSet points{Plane(count), Plane(count), Plane(count)};
        std::vector<float> own(count);
        for (std::size_t i = 0; i < count; ++i) {
            const StampCell& cell = stamps[first + i];
            const StampMiddle middle = middleOf(placed, cell.column, cell.row);
            const auto within = [](float t, int tile) {
                return t - std::floor(t) + static_cast<float>(tile);
            };
            points.u[i] = within(middle.at.x, cell.tileColumn),
            points.v[i] = within(middle.at.y, cell.tileRow);
            points.footprint[i] = middle.size / 4;
            own[i] = middle.number;
        }
        SampleCache samples;
        samples.prepare(*m_program, m_maps, points);
        std::vector<Plane> outputs;
        run(*m_program, m_maps, samples, count, outputs);
        for (std::size_t i = 0; i < count; ++i) lying[first + i] = own[i] < outputs.front()[i];
    }
    return lying;
}

}  // namespace kettle
