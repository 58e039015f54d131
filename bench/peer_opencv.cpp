// OpenCV by its fastest route: strips that stay in the cache, tables for everything that depends on 8 bits, its
// own vectorised HSV conversion, and a table for the way back to 8 bits.
#include "bench/peer_tables.h"

#ifdef KETTLE_HAS_OPENCV
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

namespace kettle::bench {

bool opencvChain(std::vector<std::uint8_t>& out, int threads) {
    const ChainPictures& in = chainPictures();
    out.resize(in.rgb.size());
    cv::setNumThreads(threads);
    static const std::vector<float> decode = decodeTable(), factor = factorTable(kValue);
    static const std::vector<unsigned char> encode = encodeTable();
    constexpr int kRows = 4;
    cv::parallel_for_(cv::Range(0, kChainSide / kRows), [&](const cv::Range& range) {
        const cv::Mat decodeLut(1, 256, CV_32FC1, const_cast<float*>(decode.data()));
        const cv::Mat factorLut(1, 256, CV_32FC3, const_cast<float*>(factor.data()));
        cv::Mat linear, hsv, saturation, shifted, grey3, factors, product, codes;
        for (int strip = range.start; strip < range.end; ++strip) {
            const std::size_t at = static_cast<std::size_t>(strip) * kRows * kChainSide;
            const cv::Mat rgb(kRows, kChainSide, CV_8UC3, const_cast<std::uint8_t*>(in.rgb.data()) + 3 * at);
            const cv::Mat grey(kRows, kChainSide, CV_8UC1, const_cast<std::uint8_t*>(in.grey.data()) + at);
            cv::LUT(rgb, decodeLut, linear);
            cv::cvtColor(linear, hsv, cv::COLOR_RGB2HSV);
            // Hue, saturation and its limit in one pass over the strip.
            for (int y = 0; y < kRows; ++y) {
                auto* row = hsv.ptr<float>(y);
                for (int x = 0; x < 3 * kChainSide; x += 3) {
                    const float h = row[x] + kHue;
                    row[x] = h >= 360 ? h - 360 : h;
                    row[x + 1] = std::min(row[x + 1] * kSaturation, 1.0f);
                }
            }
            cv::cvtColor(hsv, shifted, cv::COLOR_HSV2RGB);
            cv::cvtColor(grey, grey3, cv::COLOR_GRAY2RGB);
            cv::LUT(grey3, factorLut, factors);
            cv::multiply(shifted, factors, product, 65535);
            product.convertTo(codes, CV_16U);
            for (int y = 0; y < kRows; ++y) {
                const auto* row = codes.ptr<std::uint16_t>(y);
                std::uint8_t* to = out.data() + 3 * (at + static_cast<std::size_t>(y) * kChainSide);
                for (int x = 0; x < 3 * kChainSide; ++x) to[x] = encode[row[x]];
            }
        }
    });
    return true;
}

}  // namespace kettle::bench
#else
namespace kettle::bench {
bool opencvChain(std::vector<std::uint8_t>&, int) {
    return false;
}
}  // namespace kettle::bench
#endif
