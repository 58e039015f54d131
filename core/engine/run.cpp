#include "core/engine/run.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cassert>
#include <cstring>
#include <memory>

#include "core/engine/block_runner.h"
#include "core/engine/fact_reader.h"
#include "core/engine/grid_rows.h"
#include "core/engine/stamps_where.h"
#include "core/threads/workers.h"

namespace kettle {
namespace {

/// So many blocks a thread takes at a time: few, so that all threads end at once.
constexpr std::size_t kBlocksAtATime = 16;

}  // namespace

PointSet PointSet::grid(int width, int height, int tile) {
    const auto count = static_cast<std::size_t>(width) * static_cast<std::size_t>(height);
    PointSet p{Plane(count), Plane(count), Plane(count)};
    const float left = static_cast<float>((tile - 1001) % 10),
                bottom = static_cast<float>((tile - 1001) / 10);
    const float footprint = 1.0f / static_cast<float>(std::max(width, height));
    std::size_t i = 0;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x, ++i) {
            p.u[i] = left + (static_cast<float>(x) + 0.5f) / static_cast<float>(width);
            p.v[i] = bottom + 1.0f - (static_cast<float>(y) + 0.5f) / static_cast<float>(height);
            p.footprint[i] = footprint;
        }
    return p;
}

SampleCache::Key SampleCache::keyOf(const Program& program, const ResolvedMaps& maps,
                                    const SourceReg& source) {
    const auto s = static_cast<std::size_t>(source.source);
    const SourceKey& key = program.sources[s];
    // Which holes are alike: maps, facts of the point one by one, the model's.
    const PointAttribute* fact = std::get_if<PointAttribute>(&key.what);
    const int kind = fact != nullptr ? 2 + static_cast<int>(*fact) : key.mesh() != nullptr ? 1 : 0;
    const MapImage* map = maps.maps[s].get();
    const ModelField* field = maps.fields[s].get();
    const Offset& offset = key.offset;
    const std::array<float, 4> stand =
        key.mesh() != nullptr ? neutralFact(*key.mesh()) : maps.holes[s].neutral;
    const bool isHole = map == nullptr && field == nullptr;
    const bool isOnModel = key.isTriplanar();
    return {isHole             ? 0
            : field != nullptr ? field->id()
                               : map->id(),
            isHole ? stand : std::array<float, 4>{},
            source.component,
            kind,
            offset.u,
            offset.v,
            maps.texels[s],
            key.map() != nullptr ? key.map()->placed : Placed{},
            isOnModel && maps.position != nullptr ? maps.position->id() : 0,
            maps.wheres[s] != nullptr ? maps.wheres[s]->id() : 0};
}

void SampleCache::prepare(const Program& program, const ResolvedMaps& maps, const PointSet& points) {
    std::vector<std::vector<SourceReg>> regsOf(program.sources.size());
    for (const SourceReg& reg : program.sourceRegs)
        regsOf[static_cast<std::size_t>(reg.source)].push_back(reg);
    Plane shiftedU, shiftedV;
    struct Wanted {
        std::size_t source;
        unsigned mask;
        std::array<float*, 4> out;
    };
    std::vector<Wanted> facts;
    std::erase_if(m_planes,
                  [](const auto& known) { return known.second.isOfMap && known.second.of.expired(); });
    const auto partOf = [](const std::array<float*, 4>& out, std::size_t begin) {
        std::array<float*, 4> from{};
        for (std::size_t c = 0; c < 4; ++c) from[c] = out[c] != nullptr ? out[c] + begin : nullptr;
        return from;
    };
    for (std::size_t s = 0; s < program.sources.size(); ++s) {
        std::array<float*, 4> out{};
        unsigned mask = 0;
        for (const SourceReg& reg : regsOf[s]) {
            const auto [at, isNew] = m_planes.try_emplace(keyOf(program, maps, reg));
            if (!isNew) continue;
            static std::atomic<std::uint64_t> ids{0};
            at->second = {Plane(points.size()), maps.maps[s], maps.maps[s] != nullptr, ++ids, maps.wheres[s]};
            out[static_cast<std::size_t>(reg.component)] = at->second.plane.data();
            mask |= 1u << reg.component;
        }
        if (mask == 0) continue;
        const MapImage* map = maps.maps[s].get();
        const SourceKey& key = program.sources[s];
        if (key.map() == nullptr || (map != nullptr && !key.map()->placed.isPlain())) {
            facts.push_back({s, mask, out});
            continue;
        }
        if (map == nullptr) {
            for (std::size_t c = 0; c < 4; ++c)
                if (out[c] != nullptr) std::fill_n(out[c], points.size(), maps.holes[s].neutral[c]);
            continue;
        }
        const float *u = points.u.data(), *v = points.v.data(), *footprint = points.footprint.data();
        if (const Offset& offset = key.offset; !offset.isNone()) {
            if (shiftedU.empty()) shiftedU = Plane(points.size()), shiftedV = Plane(points.size());
            shift(offset, maps.texels[s], u, v, footprint, points.size(), shiftedU.data(), shiftedV.data());
            u = shiftedU.data(), v = shiftedV.data();
        }
        parallelFor(points.size(), 4096, [&](std::size_t begin, std::size_t end) {
            map->sample({u + begin, v + begin, footprint + begin, end - begin}, mask,
                        partOf(out, begin).data());
        });
    }
    // All of a piece's facts by one reader, which finds its places once.
    parallelFor(facts.empty() ? 0 : points.size(), 4096, [&](std::size_t begin, std::size_t end) {
        FactReader reader(program, maps);
        reader.at(points.u.data() + begin, points.v.data() + begin, points.footprint.data() + begin,
                  end - begin, &points.places, begin);
        for (const Wanted& w : facts) {
            if (program.sources[w.source].map() != nullptr)
                reader.readPlaced(w.source, w.mask, partOf(w.out, begin).data());
            else
                reader.read(w.source, w.mask, partOf(w.out, begin).data());
        }
    });
    keepResults(program, maps, points.size());
}

const float* SampleCache::plane(const Program& program, const ResolvedMaps& maps,
                                const SourceReg& source) const {
    const auto at = m_planes.find(keyOf(program, maps, source));
    return at == m_planes.end() ? nullptr : at->second.plane.data();
}

std::size_t SampleCache::byteSize() const {
    std::size_t sum = 0;
    for (const auto& [key, kept] : m_planes) sum += kept.plane.size() * sizeof(float);
    return sum + m_results.byteSize();
}

std::vector<std::uint64_t> SampleCache::identities(const Program& program, const ResolvedMaps& maps) const {
    std::vector<std::uint64_t> sources;
    for (const SourceReg& reg : program.sourceRegs) {
        const auto at = m_planes.find(keyOf(program, maps, reg));
        sources.push_back(at == m_planes.end() ? 0 : at->second.id);
    }
    return identitiesOf(program, sources);
}

namespace {

/// A program that is planned, over all points: the registers in `written` get their numbers there.
struct PlannedRun {
    const Program& program;
    const ProgramPlan& plan;
    std::vector<const float*> sources;
    std::vector<std::pair<Reg, float*>> written;

    /// `after(runner, first, n)` is called when a block is done.
    template <class After>
    void run(std::size_t count, std::size_t block, const CancelToken& cancel, After&& after) const {
        const std::size_t blocks = (count + block - 1) / block;
        parallelWorkers(blocks, kBlocksAtATime, [&]() -> PieceWork {
            const auto runner = std::make_shared<BlockRunner>(program, &plan.runs);
            runner->fetchAhead(block);
            std::size_t i = 0;
            for (const SourceReg& s : program.sourceRegs) runner->place(s.reg, sources[i++]);
            for (const auto& [reg, plane] : plan.kept) runner->place(reg, plane);
            for (const auto& [reg, plane] : written) runner->place(reg, plane);
            return [&, runner, at = std::size_t{0}](std::size_t begin, std::size_t end) mutable {
                if (cancel.isCancelled()) return;
                runner->moveOn((begin - at) * block);
                for (at = begin; at < end; ++at, runner->moveOn(block)) {
                    const std::size_t first = at * block, n = std::min(block, count - first);
                    runner->run(n);
                    after(*runner, first, n);
                }
            };
        });
    }
};

}  // namespace

void SampleCache::keepResults(const Program& program, const ResolvedMaps& maps, std::size_t count) {
    const std::vector<std::uint64_t> ids = identities(program, maps);
    const std::vector<Reg> again = m_results.comeAgain(program, ids, count);
    if (again.empty()) return;
    const ProgramPlan plan = m_results.plan(program, ids, again);
    std::vector<Plane> planes;
    PlannedRun run{program, plan, {}, {}};
    for (const SourceReg& s : program.sourceRegs) run.sources.push_back(this->plane(program, maps, s));
    const auto write = [&](Reg reg) { run.written.emplace_back(reg, planes.emplace_back(count).data()); };
    std::for_each(again.begin(), again.end(), write);
    // The program's own results have no other memory, should one be on the way.
    for (const Reg reg : program.outputs)
        if (std::find(again.begin(), again.end(), reg) == again.end() && plan.writes(program, reg))
            write(reg);
    run.run(count, kBlock, {}, [](const BlockRunner&, std::size_t, std::size_t) {});
    for (std::size_t i = 0; i < again.size(); ++i)
        m_results.keep(ids[static_cast<std::size_t>(again[i])], std::move(planes[i]));
}

ProgramPlan SampleCache::plan(const Program& program, const ResolvedMaps& maps) const {
    if (m_results.isEmpty()) return {};
    return m_results.plan(program, identities(program, maps), program.outputs);
}

bool run(const Program& program, const ResolvedMaps& maps, const SampleCache& samples, std::size_t count,
         std::vector<Plane>& outputs, const CancelToken& cancel, std::size_t block) {
    outputs.resize(program.outputs.size());
    for (Plane& plane : outputs)
        if (plane.size() != count) plane = Plane(count);
    assert(block % kPad == 0 && block > 0 && block <= kBlock);
    const ProgramPlan plan = samples.plan(program, maps);
    // What is no result of what runs is copied.
    std::vector<bool> computed = computedRegs(program);
    for (const auto& [reg, plane] : plan.kept) computed[static_cast<std::size_t>(reg)] = false;
    PlannedRun planned{program, plan, {}, {}};
    for (const SourceReg& s : program.sourceRegs) planned.sources.push_back(samples.plane(program, maps, s));
    std::vector<std::size_t> copied;
    for (std::size_t o = 0; o < outputs.size(); ++o) {
        if (computed[static_cast<std::size_t>(program.outputs[o])])
            planned.written.emplace_back(program.outputs[o], outputs[o].data());
        else
            copied.push_back(o);
    }
    planned.run(count, block, cancel, [&](const BlockRunner& runner, std::size_t first, std::size_t n) {
        for (const std::size_t o : copied)
            std::memcpy(outputs[o].data() + first, runner.at(program.outputs[o]), n * sizeof(float));
    });
    return !cancel.isCancelled();
}

bool runGrid(const Program& program, const ResolvedMaps& maps, int width, int height, int tile,
             const RowSink& sink, const CancelToken& cancel, const std::function<void(double)>& progress) {
    std::atomic<std::size_t> rowsDone{0};
    parallelWorkers(static_cast<std::size_t>(height), 8, [&]() -> PieceWork {
        const auto rows = std::make_shared<GridRows>(program, maps, width, height, tile);
        return [&, rows](std::size_t begin, std::size_t end) {
            for (std::size_t y = begin; y < end && !cancel.isCancelled(); ++y) {
                rows->run(static_cast<int>(y), sink);
                const std::size_t done = ++rowsDone;
                if (progress && done % 32 == 0) progress(static_cast<double>(done) / height);
            }
        };
    });
    return !cancel.isCancelled();
}

std::vector<float> runAt(const Program& program, const ResolvedMaps& maps, float u, float v) {
    PointSet point{Plane(1), Plane(1), Plane(1)};
    point.u[0] = u;
    point.v[0] = v;
    point.footprint[0] = 0;
    SampleCache samples;
    samples.prepare(program, maps, point);
    std::vector<Plane> outputs;
    run(program, maps, samples, 1, outputs);
    std::vector<float> values;
    for (const Plane& plane : outputs) values.push_back(plane[0]);
    return values;
}

}  // namespace kettle
