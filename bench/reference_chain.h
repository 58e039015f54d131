// The reference chain R: an 8-bit sRGB base colour and an 8-bit grey map of 4096 x 4096; hue +43.2 degrees,
// saturation 1.2, value 0.9; the grey through a 4-stop ramp as mask and through a 5-stop colour ramp as over;
// multiply in linear light at amount 0.35; encode to 8 bits. Everybody gets the same pictures in memory.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace kettle::bench {

inline constexpr int kChainSide = 4096;
inline constexpr float kHue = 43.2f, kSaturation = 1.2f, kValue = 0.9f, kAmount = 0.35f;
struct ChainStop {
    float at, r, g, b;
};
inline constexpr std::array<ChainStop, 4> kMaskRamp{
    {{0.1f, 0, 0, 0}, {0.35f, 0.25f, 0.25f, 0.25f}, {0.6f, 0.8f, 0.8f, 0.8f}, {0.9f, 1, 1, 1}}};
inline constexpr std::array<ChainStop, 5> kOverRamp{{{0.0f, 0.02f, 0.05f, 0.08f},
                                                     {0.25f, 0.1f, 0.3f, 0.25f},
                                                     {0.5f, 0.6f, 0.5f, 0.2f},
                                                     {0.75f, 0.85f, 0.6f, 0.4f},
                                                     {1.0f, 0.95f, 0.92f, 0.85f}}};

/// The pictures, made by formula: smooth colours of all hues with fine detail, and a grey with all codes.
struct ChainPictures {
    std::vector<std::uint8_t> rgb, grey;  ///< interleaved; rows from the top
    ChainPictures();
    std::size_t pixels() const { return grey.size(); }
};
const ChainPictures& chainPictures();

/// The chain as a plain scalar loop in doubles, for comparing results: one pixel.
std::array<std::uint8_t, 3> plainChain(const std::uint8_t* rgb, std::uint8_t grey);
/// The largest difference in codes of `out` (interleaved) to the plain loop, over every 7th pixel.
int worstCode(const std::vector<std::uint8_t>& out);

/// The chain as one plain loop left to the compiler, curves as exact as a byte needs. One thread; `count` a
/// multiple of 512.
void fusedChain(const std::uint8_t* rgb, const std::uint8_t* grey, std::size_t count, std::uint8_t* out);
/// The same over float planes: linear r, g, b and the grey in, linear r, g, b out; as exact as floats are.
void fusedChainPlanes(const float* const in[4], std::size_t count, float* const out[3]);

// The peers, each by its fastest route that keeps the result within one code; compiled in where the library
// is there. They return false if it is not.
bool opencvChain(std::vector<std::uint8_t>& out, int threads);
bool vipsChain(std::vector<std::uint8_t>& out, int threads);
bool openImageIoChain(std::vector<std::uint8_t>& out, int threads);

}  // namespace kettle::bench
