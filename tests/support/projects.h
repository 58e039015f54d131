// Small projects and pictures that many tests start from.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/image/image.h"

namespace kettle::test {

inline Step step(const std::string& id, const std::string& type, Controls controls = {}, Feeds feeds = {}) {
    Step s;
    s.id = id;
    s.type = type;
    s.controls = std::move(controls);
    s.feeds = std::move(feeds);
    return s;
}

inline Step mapStep(const std::string& id, const std::string& role) {
    Step s = step(id, "map");
    s.set = "set";
    s.role = role;
    return s;
}

inline Feed feed(const std::string& line, const std::string& after = {}, const std::string& component = {}) {
    Feed f;
    f.line = line;
    f.after = after;
    f.component = component;
    return f;
}

inline Feed constantFeed(ControlValue value) {
    Feed f;
    f.constant = std::move(value);
    return f;
}

inline Line line(const std::string& id, Kind kind, const std::string& channel, std::vector<Step> steps) {
    Line l{id, id, kind, channel, {}, {}};
    for (Step& s : steps) l.steps.emplace_back(std::move(s));
    return l;
}

/// A colour line "base" (source, shift) that drives the base colour, a shared grey line "grey" (g1, g2),
/// looks "look" and "other".
inline Project twoLines() {
    Project p;
    Line base = line("base", Kind::Colour, "base-colour",
                     {step("source", "colour", {{"colour", Colour{0.5f, 0.25f, 0.1f}}}),
                      step("shift", "hsv-shift", {{"hue", 30.0}})});
    base.name = "Base colour";
    p.lines.emplace_back(std::move(base));
    p.lines.emplace_back(
        line("grey", Kind::Scalar, "", {step("g1", "value", {{"value", 0.5}}), step("g2", "ramp-remap")}));
    p.looks.emplace_back(Look{"look", "Look", {}, {}});
    p.looks.emplace_back(Look{"other", "Other", {}, {}});
    return p;
}

/// A one-line project for trying one step on a constant colour.
inline Project colourThrough(Colour colour, Step tried) {
    Project p;
    p.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                              {step("source", "colour", {{"colour", colour}}), std::move(tried)}));
    return p;
}

inline Project valueThrough(double value, Step tried) {
    Project p;
    p.lines.emplace_back(line("base", Kind::Scalar, "roughness",
                              {step("source", "value", {{"value", value}}), std::move(tried)}));
    return p;
}

/// Writes an 8-bit picture whose components come from value(x, y, c) in 0..255.
template <class F>
Result<void> writePicture(const std::filesystem::path& file, int width, int height, int channels, F value) {
    PixelBuffer p = PixelBuffer::make(width, height, channels, Depth::U8);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            for (int c = 0; c < channels; ++c)
                p.row<std::uint8_t>(y)[x * channels + c] = static_cast<std::uint8_t>(value(x, y, c));
    return writeImage(file, p, FileFormat::Png8, "");
}

}  // namespace kettle::test
