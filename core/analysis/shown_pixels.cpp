#include "core/analysis/shown_pixels.h"

#include <algorithm>

#include "core/program/program.h"  // kPad

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/analysis/shown_pixels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/base/whole-inl.h"
#include "core/colour/curve-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// Whole vectors; the caller sees to what remains.
void EncodeVectors(const float* linear, std::size_t count, float* encoded) {
    const hn::ScalableTag<float> d;
    for (std::size_t i = 0; i < count; i += hn::Lanes(d))
        hn::StoreU(EncodeSrgb(d, hn::LoadU(d, linear + i)), d, encoded + i);
}

/// Whole vectors of three planes that are shown by `kind` (0 colour, 1 as it stands, 2 normal).
void ShowVectors(int kind, const float* const* planes, std::size_t count, std::uint32_t* out) {
    const hn::ScalableTag<float> d;
    const hn::RebindToUnsigned<decltype(d)> du;
    const auto zero = hn::Zero(d), one = hn::Set(d, 1.0f), half = hn::Set(d, 0.5f);
    for (std::size_t i = 0; i < count; i += hn::Lanes(d)) {
        const auto code = [&](std::size_t c) {
            auto x = hn::LoadU(d, planes[c] + i);
            x = hn::IfThenElseZero(hn::Eq(x, x), x);  // no NaN
            if (kind == 0) x = EncodeSrgb(d, x);
            if (kind == 2) x = hn::MulAdd(x, half, half);
            x = hn::Min(hn::Max(x, zero), one);
            return hn::BitCast(du, NearestScaled(d, x, 255.0f));
        };
        // What stands above a code is shifted out, or of the highest byte, which is full.
        const auto pixel = hn::Or(hn::Or(hn::ShiftLeft<16>(code(0)), hn::ShiftLeft<8>(code(1))),
                                  hn::Or(code(2), hn::Set(du, 0xFF000000u)));
        hn::StoreU(pixel, du, out + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
HWY_EXPORT(EncodeVectors);
HWY_EXPORT(ShowVectors);

void encodeForDisplay(const float* linear, std::size_t count, float* encoded) {
    const std::size_t whole = count / kPad * kPad;
    HWY_DYNAMIC_DISPATCH(EncodeVectors)(linear, whole, encoded);
    if (whole == count) return;
    alignas(64) float rest[kPad]{};
    std::copy(linear + whole, linear + count, rest);
    HWY_DYNAMIC_DISPATCH(EncodeVectors)(rest, kPad, rest);
    std::copy_n(rest, count - whole, encoded + whole);
}

void showPixels(Kind kind, const std::array<const float*, 3>& planes, std::size_t count, std::uint32_t* out) {
    const int how = kind == Kind::Colour ? 0 : kind == Kind::Scalar ? 1 : 2;
    const float* three[3]{planes[0], kind == Kind::Scalar ? planes[0] : planes[1],
                          kind == Kind::Scalar ? planes[0] : planes[2]};
    const std::size_t whole = count / kPad * kPad;
    HWY_DYNAMIC_DISPATCH(ShowVectors)(how, three, whole, out);
    if (whole == count) return;
    alignas(64) float rest[3][kPad]{};
    alignas(64) std::uint32_t pixels[kPad];
    const float* last[3]{rest[0], rest[1], rest[2]};
    for (std::size_t c = 0; c < 3; ++c) std::copy(three[c] + whole, three[c] + count, rest[c]);
    HWY_DYNAMIC_DISPATCH(ShowVectors)(how, last, kPad, pixels);
    std::copy_n(pixels, count - whole, out + whole);
}

}  // namespace kettle
#endif
