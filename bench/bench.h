// The bench: every figure has a stable name, and is the median of its repetitions in one run.
#pragma once

#include <map>
#include <string>

namespace kettle::bench {

/// The chain of the demo kettle: evaluated and exported, one and two threads, and against a loop fused by
/// hand.
void registerChain();
/// A slider's change to the first and the full new picture of the model.
void registerPreview();
/// The reference chain against one plain loop and against other libraries.
void registerReferenceChain();
/// The program's time over the fused loop's for the pictures of 4096 x 4096: the median of 41 rounds in which
/// both run one after the other, since the machine's speed changes.
double bytesRatio(int threads);
/// The same for 540,000 points, 201 rounds.
double pointsRatio(int threads);
/// What steps cost besides their own work.
struct StepCosts {
    double hundredToOne;       ///< the time of a hundred HSV shifts over the time of one, 540,000 points
    double blockMicroseconds;  ///< of one step for a block of one vector, its set-up included
};
StepCosts stepCosts();
/// The time of ten HSV shifts on display-encoded numbers over that of ten in linear light, 540,000 points,
/// one thread, in turn: only the first encodes and only the last decodes.
double displayStepsRatio();
/// Trilinear lookups against OpenImageIO's TextureSystem.
void registerLookups();
/// Noise, placed maps, and what the model tells.
void registerPatterns();
/// Sliders on the masks of layers.
void registerLayers();
/// Copies that differ, and a large library.
void registerObjects();
/// Plans, their state, and how well workers share them.
void registerFarm();
/// Whole processes over seven maps of 4096 x 4096: seconds of an export in every format, beside the image
/// library alone, with its peak memory and size in MB; seconds of a picture. By name; only those that the
/// filter takes.
std::map<std::string, double> sevenMaps(const std::string& filter);
/// A window with ten thousand steps and lines, in ms and MB; only for a filter that names steps-10000.
std::map<std::string, double> tenThousandSteps(const std::string& filter);
/// Peak memory in MB of whole exports at 8192 x 8192; only for a filter that names export-8192.
std::map<std::string, double> largeExports(const std::string& filter);
/// Whole processes over 64 tiles of 4096 x 4096 in five maps; only for a filter that names udim-64.
std::map<std::string, double> udimTiles(const std::string& filter);

}  // namespace kettle::bench
