#include "core/exchange/packed_map.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include "core/base/memory.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

/// Thresholds of ordered dither, 1/128 to 127/128.
float threshold(int x, int y) {
    // The matrix by its definition: interleaved bits of x ^ y and y.
    const int a = (x ^ y) & 7, b = y & 7;
    const int order = (a & 1) << 5 | (b & 1) << 4 | (a & 2) << 2 | (b & 2) << 1 | (a & 4) >> 1 | (b & 4) >> 2;
    return (static_cast<float>(order) + 0.5f) / 64.0f;
}

/// Which plane of which want a component is.
struct Slot {
    int want = -1, plane = 0;
};

Result<std::vector<Slot>> slotsOf(const Project& project, const std::vector<PackedComponent>& components,
                                  const std::string& space, std::vector<Want>& wants) {
    static constexpr std::array kPlain{"red", "green", "blue", "alpha"};
    std::vector<Slot> slots;
    for (const PackedComponent& c : components) {
        if (c.line.empty()) {
            slots.emplace_back();
            continue;
        }
        const Line* line = project.findLine(c.line);
        if (line == nullptr)
            return fail(
                ErrorKind::Refused,
                fmt::format("The project has no line {} to take a component from. Choose another.", c.line));
        const bool isScalar = kindGiven(*line) == Kind::Scalar;
        const auto plain = std::find(kPlain.begin(), kPlain.end(), c.component);
        Want want = wantOfLine(*line, true);
        want.space = space;
        int plane = 0;
        if (plain != kPlain.end() && !isScalar) {
            plane = static_cast<int>(plain - kPlain.begin());
            want.components = kindGiven(*line) == Kind::Colour ? 4 : 3;
            plane = std::min(plane, want.components - 1);
        } else if (!c.component.empty() && !isScalar) {
            want.component = componentNamed(c.component);
            want.components = 1;
        }
        const auto known = std::find_if(wants.begin(), wants.end(), [&](const Want& w) {
            return w.line == want.line && w.component == want.component;
        });
        slots.push_back({static_cast<int>(known - wants.begin()), plane});
        if (known == wants.end()) wants.push_back(want);
    }
    return slots;
}

}  // namespace

const std::vector<std::string>& packedComponentChoices() {
    static const std::vector<std::string> names = [] {
        std::vector<std::string> all;
        for (const Option<Component>& component : kComponents) all.emplace_back(component.id);
        for (const char* more : {"red", "green", "blue", "alpha", "x", "y", "z"})
            if (std::find(all.begin(), all.end(), more) == all.end()) all.emplace_back(more);
        return all;
    }();
    return names;
}

Result<PixelBuffer> renderPacked(const Project& all, const Resources& resources, const std::string& look,
                                 const std::vector<PackedComponent>& components, int width, int height,
                                 int tile, Depth depth, bool dither, const std::string& object,
                                 const std::string& space, const CancelToken& cancel) {
    return guarded("make a packed map", [&]() -> Result<PixelBuffer> {
        if (components.empty() || components.size() > 4)
            return fail(ErrorKind::Refused, "A file has one to four components. Choose what each holds.");
        Project project = all;
        if (!object.empty()) project.view.object = object;
        std::vector<Want> wants;
        auto slots = slotsOf(project, components, space, wants);
        if (!slots) return fail(slots.error());
        const Compiled compiled = compile(project, project.findLook(look), wants, resources.rules());
        const ResolvedMaps maps = resources.resolve(project, compiled.program);
        if (!maps.problems.empty()) return fail(ErrorKind::Unreadable, maps.problems.front());
        const int count = static_cast<int>(components.size());
        const auto bytes = static_cast<std::uint64_t>(width) * static_cast<std::uint64_t>(height) *
                           static_cast<std::uint64_t>(count) * (depth == Depth::U16 ? 2 : 1);
        if (auto fits = needMemory(2 * bytes, "make a packed map", "Choose a smaller size."); !fits)
            return fail(fits.error());
        PixelBuffer pixels = PixelBuffer::make(width, height, count, depth);
        const auto stored = [&](int c, float v, int x, int y) {
            if (components[static_cast<std::size_t>(c)].isInverted) v = 1 - v;
            v = v > 0 ? std::min(v, 1.0f) : 0.0f;  // what is no number is 0
            if (depth == Depth::U16) {
                pixels.row<std::uint16_t>(y)[x * count + c] = static_cast<std::uint16_t>(v * 65535.0f + 0.5f);
                return;
            }
            const float up = dither ? threshold(x, y) : 0.5f;
            pixels.row<std::uint8_t>(y)[x * count + c] =
                static_cast<std::uint8_t>(std::min(255.0f, v * 255.0f + up));
        };
        const RowSink sink = [&](int y, int x, std::size_t n, const float* const* planes) {
            for (int c = 0; c < count; ++c) {
                const Slot slot = (*slots)[static_cast<std::size_t>(c)];
                const float otherwise = components[static_cast<std::size_t>(c)].otherwise;
                const float* from = slot.want < 0
                                        ? nullptr
                                        : planes[compiled.planes[static_cast<std::size_t>(slot.want)]
                                                                [static_cast<std::size_t>(slot.plane)]];
                for (std::size_t i = 0; i < n; ++i)
                    stored(c, from != nullptr ? from[i] : otherwise, x + static_cast<int>(i), y);
            }
        };
        if (wants.empty()) {
            for (int y = 0; y < height; ++y)
                for (int x = 0; x < width; ++x)
                    for (int c = 0; c < count; ++c)
                        stored(c, components[static_cast<std::size_t>(c)].otherwise, x, y);
            return pixels;
        }
        if (!runGrid(compiled.program, maps, width, height, tile, sink, cancel))
            return fail(ErrorKind::Cancelled, "The export was stopped. What was finished stays.");
        return pixels;
    });
}

bool isUniform(const PixelBuffer& pixels, std::vector<float>& value) {
    const std::size_t size =
        (pixels.depth == Depth::U16 ? 2u : 1u) * static_cast<std::size_t>(pixels.channels);
    const std::byte* first = pixels.bytes.data();
    for (std::size_t at = size; at + size <= pixels.bytes.size(); at += size)
        if (std::memcmp(first, first + at, size) != 0) return false;
    value.clear();
    for (int c = 0; c < pixels.channels; ++c)
        value.push_back(pixels.depth == Depth::U16
                            ? static_cast<float>(pixels.row<std::uint16_t>(0)[c]) / 65535.0f
                            : static_cast<float>(pixels.row<std::uint8_t>(0)[c]) / 255.0f);
    return true;
}

}  // namespace kettle
