// OpenImageIO's algorithms: whole pictures one after the other, as the library works, with its own colour
// maps for the ramps and the hue. It has no conditional, so the sector of the hue is chosen by limited
// differences.
#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>

#include "bench/peer_tables.h"

namespace kettle::bench {

bool openImageIoChain(std::vector<std::uint8_t>& out, int threads) {
    using namespace OIIO;
    const ChainPictures& in = chainPictures();
    out.resize(in.rgb.size());
    OIIO::attribute("threads", threads);
    const ImageBuf rgb(ImageSpec(kChainSide, kChainSide, 3, TypeDesc::UINT8),
                       const_cast<std::uint8_t*>(in.rgb.data()));
    const ImageBuf grey(ImageSpec(kChainSide, kChainSide, 1, TypeDesc::UINT8),
                        const_cast<std::uint8_t*>(in.grey.data()));
    const auto channel = [](const ImageBuf& from, int c) {
        return ImageBufAlgo::channels(from, 1, cspan<int>(&c, 1));
    };
    ImageBuf linear =
        ImageBufAlgo::colorconvert(ImageBufAlgo::copy(rgb, TypeDesc::FLOAT), "sRGB", "linear", false);
    const ImageBuf r = channel(linear, 0), g = channel(linear, 1), b = channel(linear, 2);
    const ImageBuf v = ImageBufAlgo::max(r, ImageBufAlgo::max(g, b));
    const ImageBuf c = ImageBufAlgo::sub(v, ImageBufAlgo::min(r, ImageBufAlgo::min(g, b)));
    // 1 where a component is the largest, 0 elsewhere: a difference, enlarged and limited.
    const auto isLargest = [&](const ImageBuf& x) {
        const ImageBuf apart =
            ImageBufAlgo::clamp(ImageBufAlgo::mul(ImageBufAlgo::sub(v, x), 1e12f), 0.0f, 1.0f);
        return ImageBufAlgo::mad(apart, -1.0f, 1.0f);
    };
    const ImageBuf isR = isLargest(r),
                   isG = ImageBufAlgo::mul(isLargest(g), ImageBufAlgo::mad(isR, -1.0f, 1.0f));
    const ImageBuf isB = ImageBufAlgo::mad(ImageBufAlgo::add(isR, isG), -1.0f, 1.0f);
    const auto sector = [&](const ImageBuf& x, const ImageBuf& y, float base, const ImageBuf& is) {
        return ImageBufAlgo::mul(ImageBufAlgo::add(ImageBufAlgo::div(ImageBufAlgo::sub(x, y), c), base), is);
    };
    // From -1 (red towards blue) to 5; the table begins there, so nothing needs to be wrapped.
    const ImageBuf hue = ImageBufAlgo::add(ImageBufAlgo::add(sector(g, b, 0, isR), sector(b, r, 2, isG)),
                                           sector(r, g, 4, isB));
    static const std::vector<float> missing = [] {
        std::vector<float> knots;
        for (int i = 0; i <= 150; ++i)  // every bend lies on a knot: 0.72 is 18 steps of 0.04
            for (const float m : missingChroma(std::fmod(static_cast<float>(i) * 0.04f - 1 + 6, 6.0f)))
                knots.push_back(m);
        return knots;
    }();
    static const std::vector<float> factor = factorTable(kValue);
    const ImageBuf place = ImageBufAlgo::mad(hue, 1 / 6.0f, 1 / 6.0f);
    const ImageBuf lack = ImageBufAlgo::color_map(place, 0, 151, 3, missing);
    const ImageBuf chroma = ImageBufAlgo::min(v, ImageBufAlgo::mul(c, kSaturation));
    const int all[3]{0, 0, 0};
    const ImageBuf v3 = ImageBufAlgo::channels(v, 3, all), chroma3 = ImageBufAlgo::channels(chroma, 3, all);
    const ImageBuf shifted = ImageBufAlgo::sub(v3, ImageBufAlgo::mul(lack, chroma3));
    const ImageBuf factors =
        ImageBufAlgo::color_map(ImageBufAlgo::copy(grey, TypeDesc::FLOAT), 0, 256, 3, factor);
    const ImageBuf encoded =
        ImageBufAlgo::colorconvert(ImageBufAlgo::mul(shifted, factors), "linear", "sRGB", false);
    return encoded.get_pixels(ROI(0, kChainSide, 0, kChainSide, 0, 1, 0, 3), TypeDesc::UINT8, out.data());
}

}  // namespace kettle::bench
