// Everything the board paints, from one run of one program: each step's thumbnail, tone ribbon and spread.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/analysis/effects.h"
#include "core/analysis/tones.h"
#include "core/base/by_name.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/engine/stamps.h"

namespace kettle {

/// How a result looks.
struct ResultPictures {
    int width = 0, height = 0;
    std::vector<std::uint32_t> thumbnail;  ///< rows from the top
    std::vector<std::uint32_t> ribbon;     ///< light to dark
    Spread spread;
};
struct StepPictures {
    /// Never null. Steps whose results are computed alike, as those without effect and the steps before them,
    /// share one.
    std::shared_ptr<const ResultPictures> result = nothing();
    /// The histograms of what the step reads, and of its result in the same numbers, where those are not the
    /// usual ones of what comes in; null where they are.
    struct Read {
        Spread in, out;
    };
    std::shared_ptr<const Read> read{};
    std::string noEffect;    ///< why the step changes nothing; empty if it does
    std::string warning;     ///< what is wrong with its map's file; empty if nothing is
    std::string encoding{};  ///< of a map: what it is read as, and whether by itself

private:
    static const std::shared_ptr<const ResultPictures>& nothing() {
        static const auto kNothing = std::make_shared<const ResultPictures>();
        return kNothing;
    }
};

class BoardPictures {
public:
    /// Thumbnails show a window of the map in the given proportions; ribbons and spreads count the whole of
    /// it.
    BoardPictures(int thumbnailWidth, int thumbnailHeight, int ribbonRows);
    /// Pictures by step id, line after line. Keeps what it read from the maps for the next call. Empty if
    /// cancelled.
    ByName<StepPictures> paint(const Project& project, const std::string& look, const Resources& resources,
                               const CancelToken& cancel = {});
    /// The end of a channel's line alone, for a look's button: its base colour, or its first line.
    std::vector<std::uint32_t> paintLook(const Project& project, const std::string& look,
                                         const Resources& resources);

private:
    /// The points of the whole, over every tile that the project's maps have.
    void takeTiles(const Project& project, const Resources& resources);
    int m_width, m_height, m_rows;
    std::vector<int> m_tiles;
    PointSet m_window, m_whole;
    SampleCache m_windowSamples, m_wholeSamples;
};

/// The mode gallery: a Blend step's result in every mode on its real inputs, `width` x `height`, by mode id.
/// Empty if the step is no Blend or the work was cancelled.
std::map<std::string, std::vector<std::uint32_t>> paintModes(const Project& project, const std::string& look,
                                                             const std::string& step, int width, int height,
                                                             const Resources& resources,
                                                             const CancelToken& cancel = {});

/// A flat picture of one result: `width` x `height` pixels of the part of texture space from (left, bottom)
/// to (right, top). `component`: it alone, as grey; none: the whole value.
struct FlatRequest {
    std::string line, after;
    std::optional<Component> component{};
    int width = 400, height = 300;
    double left = 0, bottom = 0, right = 1, top = 1;
    /// Above 0: single pixels of a map of that size are shown as squares, read at their centres.
    int texelsAcross = 0, texelsUp = 0;
    std::string stampsOf{};     ///< a step that scatters its map, whose stamps are outlined
    bool marksClipped = false;  ///< numbers above 1 in brick, below 0 in verdigris
    bool operator==(const FlatRequest&) const = default;
};

class FlatPainter {
public:
    /// 0xAARRGGBB, rows from the top; empty if cancelled or the line is not there.
    std::vector<std::uint32_t> paint(const Project& project, const std::string& look,
                                     const FlatRequest& request, const Resources& resources,
                                     const CancelToken& cancel = {});
    /// Where the stamps of the request's step lie in the rectangle that was painted last.
    const std::vector<StampCorners>& stamps() const { return m_stamps; }

private:
    FlatRequest m_kept;
    std::vector<StampCorners> m_stamps;
    PointSet m_points;
    SampleCache m_samples;
};

/// A result at one place, for the probe and the batch tool: linear (raw, vector) and as shown, four
/// components.
struct ProbeValue {
    Kind kind = Kind::Colour;
    std::array<float, 4> linear{}, shown{};
};
/// Errors: Refused (no such line or step).
Result<ProbeValue> probe(const Project& project, const std::string& look, const std::string& line,
                         const std::string& after, float u, float v, const Resources& resources);

}  // namespace kettle
