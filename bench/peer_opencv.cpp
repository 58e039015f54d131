// OpenCV by its fastest route: strips that stay in the cache, tables for everything that depends on 8 bits,
// its own vectorised HSV conversion and power. (Its tables take 8 bits, so they cannot make the way back.)
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
    constexpr int kRows = 4;
    cv::parallel_for_(cv::Range(0, kChainSide / kRows), [&](const cv::Range& range) {
        const cv::Mat decodeLut(1, 256, CV_32FC1, const_cast<float*>(decode.data()));
        const cv::Mat factorLut(1, 256, CV_32FC3, const_cast<float*>(factor.data()));
        const cv::Matx34f change(1, 0, 0, kHue, 0, kSaturation, 0, 0, 0, 0, 1, 0);
        cv::Mat linear, hsv, saturation, shifted, grey3, factors, product, curve, straight, dark;
        for (int strip = range.start; strip < range.end; ++strip) {
            const std::size_t at = static_cast<std::size_t>(strip) * kRows * kChainSide;
            const cv::Mat rgb(kRows, kChainSide, CV_8UC3, const_cast<std::uint8_t*>(in.rgb.data()) + 3 * at);
            const cv::Mat grey(kRows, kChainSide, CV_8UC1, const_cast<std::uint8_t*>(in.grey.data()) + at);
            cv::LUT(rgb, decodeLut, linear);
            cv::cvtColor(linear, hsv, cv::COLOR_RGB2HSV);
            // Its way back wraps the hue by itself, so one affine transform turns it and scales the
            // saturation.
            cv::transform(hsv, hsv, change);
            cv::extractChannel(hsv, saturation, 1);
            cv::min(saturation, 1.0, saturation);
            cv::insertChannel(saturation, hsv, 1);
            cv::cvtColor(hsv, shifted, cv::COLOR_HSV2RGB);
            cv::cvtColor(grey, grey3, cv::COLOR_GRAY2RGB);
            cv::LUT(grey3, factorLut, factors);
            cv::multiply(shifted, factors, product);
            const cv::Mat flat = product.reshape(1);
            cv::pow(flat, 1 / 2.4, curve);
            curve.convertTo(curve, CV_32F, 1.055 * 255, -0.055 * 255);
            cv::compare(flat, 0.0031308, dark, cv::CMP_LE);
            flat.convertTo(straight, CV_32F, 12.92 * 255);
            straight.copyTo(curve, dark);
            cv::Mat bytes(kRows, 3 * kChainSide, CV_8UC1, out.data() + 3 * at);
            curve.convertTo(bytes, CV_8U);
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
