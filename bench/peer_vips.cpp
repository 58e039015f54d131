// libvips by its fastest route: one demand-driven pipeline, with tables for the decoding, for everything that
// depends on the grey, for the hue (the shift folded in) and for the way back to 8 bits.
#include "bench/peer_tables.h"

#ifdef KETTLE_HAS_VIPS
#include <vips/vips8>

namespace kettle::bench {

bool vipsChain(std::vector<std::uint8_t>& out, int threads) {
    static const bool started = VIPS_INIT("pale-kettle-bench") == 0;
    if (!started) return false;
    using vips::VImage;
    const ChainPictures& in = chainPictures();
    vips_concurrency_set(threads);
    vips_cache_set_max(0);
    static const std::vector<float> decode = decodeTable(), factor = factorTable(1);
    static const std::vector<unsigned char> encode = encodeTable();
    static const std::vector<float> missing = [] {
        std::vector<float> table(65536 * 3);
        for (std::size_t i = 0; i < 65536; ++i) {
            const auto m = missingChroma(static_cast<float>(i) * 6 / 65535);
            std::copy(m.begin(), m.end(), table.begin() + static_cast<std::ptrdiff_t>(3 * i));
        }
        return table;
    }();
    const auto table = [](const auto& values, int width, int bands, VipsBandFormat format) {
        return VImage::new_from_memory(const_cast<void*>(static_cast<const void*>(values.data())),
                                       values.size() * sizeof(values[0]), width, 1, bands, format);
    };
    const VImage rgb = VImage::new_from_memory(const_cast<std::uint8_t*>(in.rgb.data()), in.rgb.size(),
                                               kChainSide, kChainSide, 3, VIPS_FORMAT_UCHAR);
    const VImage grey = VImage::new_from_memory(const_cast<std::uint8_t*>(in.grey.data()), in.grey.size(),
                                                kChainSide, kChainSide, 1, VIPS_FORMAT_UCHAR);
    const VImage linear = rgb.maplut(table(decode, 256, 1, VIPS_FORMAT_FLOAT));
    const VImage r = linear[0], g = linear[1], b = linear[2];
    const auto larger = [](const VImage& x, const VImage& y) { return (x > y).ifthenelse(x, y); };
    const auto smaller = [](const VImage& x, const VImage& y) { return (x < y).ifthenelse(x, y); };
    const VImage v = larger(r, larger(g, b)), low = smaller(r, smaller(g, b));
    const VImage c = v - low;  // a quotient by 0 is 0 here
    const VImage hue =
        (v == r).ifthenelse((g - b) / c, (v == g).ifthenelse((b - r) / c + 2, (r - g) / c + 4));
    const VImage wrapped = (hue < 0).ifthenelse(hue + 6, hue);
    const VImage index = (wrapped * (65535.0 / 6)).rint().cast(VIPS_FORMAT_USHORT);
    const VImage lack = index.maplut(table(missing, 65536, 3, VIPS_FORMAT_FLOAT));
    const VImage raised = c * kSaturation;
    const VImage chroma = (raised > v).ifthenelse(v, raised);
    const VImage shifted = (v - lack * chroma) * kValue;
    const VImage product = shifted * grey.maplut(table(factor, 256, 3, VIPS_FORMAT_FLOAT));
    const VImage codes =
        (product * 65535).cast(VIPS_FORMAT_USHORT).maplut(table(encode, 65536, 1, VIPS_FORMAT_UCHAR));
    std::size_t size = 0;
    void* memory = codes.write_to_memory(&size);
    out.assign(static_cast<std::uint8_t*>(memory), static_cast<std::uint8_t*>(memory) + size);
    g_free(memory);
    return true;
}

}  // namespace kettle::bench
#else
namespace kettle::bench {
bool vipsChain(std::vector<std::uint8_t>&, int) {
    return false;
}
}  // namespace kettle::bench
#endif
