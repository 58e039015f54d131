// Colour models on vectors of colours, compiled once per processor target. Include
// only from kernels, between HWY_BEFORE_NAMESPACE and HWY_AFTER_NAMESPACE files that follow Highway's
// foreach_target.
//
// Accuracy against the plain twins in core/colour: HSV, HSL and OKLab
// 2e-6 absolute per component.
#include <hwy/highway.h>

#include "core/colour/curve-inl.h"
#include "core/program/program.h"

#if defined(KETTLE_MODELS_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef KETTLE_MODELS_INL_H_
#undef KETTLE_MODELS_INL_H_
#else
#define KETTLE_MODELS_INL_H_
#endif

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// The places of a call's vectors, to loop over: 0, Lanes(d), ... On the way it asks for the memory that a
/// later instruction will write or read, a line a vector: asked for at once it would be waited for.
template <class D>
struct VectorsOf {
    HWY_INLINE VectorsOf(D, const KernelCall& k) : count(k.count), soon(k.soon), next(k.next) {}
    struct Place {
        std::size_t i;
        const float *soon, *next;
        HWY_INLINE bool operator!=(const Place& end) const { return i < end.i; }
        HWY_INLINE void operator++() { i += hn::Lanes(D()); }
        HWY_INLINE std::size_t operator*() const {
            __builtin_prefetch(soon + i);
            __builtin_prefetch(next + i);
            return i;
        }
    };
    HWY_INLINE Place begin() const { return {0, soon, next}; }
    HWY_INLINE Place end() const { return {count, soon, next}; }
    std::size_t count;
    const float *soon, *next;
};

/// Stores unless nobody reads the result (KernelCall).
template <class D, class V = hn::Vec<D>>
HWY_INLINE void StoreIf(D d, V v, float* out, std::size_t i) {
    if (out != nullptr) hn::Store(v, d, out + i);
}

/// Hue in sixths of a turn, [0, 6); value >= 0; chroma = value * saturation. Negative components count as 0;
/// a grey has hue 0. Chroma in place of saturation saves a division.
template <class D, class V = hn::Vec<D>>
HWY_INLINE void ToHueChroma(D d, V r, V g, V b, V& h, V& chroma, V& v) {
    const V zero = hn::Zero(d);
    r = hn::Max(r, zero);
    g = hn::Max(g, zero);
    b = hn::Max(b, zero);
    // Sorted so that the largest comes first: each exchange mirrors the hue and moves its origin, which
    // leaves one formula for all six sectors.
    const V more = hn::Max(g, b), less = hn::Min(g, b);
    const V origin = hn::IfThenElseZero(hn::Lt(g, b), hn::Set(d, -6.0f));
    const auto exchanged = hn::Lt(r, more);
    v = hn::Max(r, more);
    const V middle = hn::Min(r, more);
    const V from = hn::IfThenElse(exchanged, hn::Sub(hn::Set(d, -2.0f), origin), origin);
    chroma = hn::Sub(v, hn::Min(middle, less));
    // A grey divides 0 by the smallest number there is; an infinite one, whose chroma is none, has hue 0 as
    // well.
    const V quotient = hn::Div(hn::Sub(middle, less), hn::Max(chroma, hn::Set(d, 1.17549435e-38f)));
    h = hn::IfThenElseZero(hn::Gt(chroma, zero), hn::Abs(hn::Add(from, quotient)));
}

/// The same with saturation, 0..1.
template <class D, class V = hn::Vec<D>>
HWY_INLINE void ToHsv(D d, V r, V g, V b, V& h, V& s, V& v) {
    V chroma = v;
    ToHueChroma(d, r, g, b, h, chroma, v);
    s = hn::IfThenElseZero(hn::Gt(chroma, hn::Zero(d)), hn::Div(chroma, hn::Max(v, hn::Set(d, 1e-30f))));
}

/// Hue in sixths of a turn, [0, 6]. The three components are v - c + c x, x being |h - 3| - 1, 2 - |h - 2|
/// and 2 - |h - 4| limited to 0..1: the hexcone's edges without a case for each sector.
template <class D, class V = hn::Vec<D>>
HWY_INLINE void FromHueChroma(D d, V h, V chroma, V v, V& r, V& g, V& b) {
    const V zero = hn::Zero(d), one = hn::Set(d, 1.0f), two = hn::Set(d, 2.0f);
    const V low = hn::Sub(v, chroma);
    const auto component = [&](V x) { return hn::MulAdd(hn::Min(hn::Max(x, zero), one), chroma, low); };
    r = component(hn::Sub(hn::Abs(hn::Sub(h, hn::Set(d, 3.0f))), one));
    g = component(hn::Sub(two, hn::Abs(hn::Sub(h, two))));
    b = component(hn::Sub(two, hn::Abs(hn::Sub(h, hn::Set(d, 4.0f)))));
}

/// A hue of [0, 6] and a turn of as much, together in [0, 6].
template <class D, class V = hn::Vec<D>>
HWY_INLINE V TurnedHue(D d, V h, V turn) {
    const V sum = hn::Add(h, turn), six = hn::Set(d, 6.0f);
    return hn::IfThenElse(hn::Ge(sum, six), hn::Sub(sum, six), sum);
}

/// Hue in sixths of a turn, any finite value.
template <class D, class V = hn::Vec<D>>
HWY_INLINE void FromHsv(D d, V h, V s, V v, V& r, V& g, V& b) {
    const V turns = hn::Floor(hn::Mul(h, hn::Set(d, 1.0f / 6.0f)));
    FromHueChroma(d, hn::NegMulAdd(turns, hn::Set(d, 6.0f), h), hn::Mul(v, s), v, r, g, b);
}

/// How much of a hue band a colour is in. h in sixths of a turn, s saturation; params as hueBandParams gives
/// them. 1 within half the width of the centre, then a smooth step down over the softness; times a smooth
/// step on the saturation up to the threshold.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V HueBandWeight(D d, V h, V s, const float* params) {
    const V one = hn::Set(d, 1.0f), zero = hn::Zero(d), three = hn::Set(d, 3.0f), two = hn::Set(d, 2.0f);
    const auto smooth = [&](V t) {
        t = hn::Min(hn::Max(t, zero), one);
        return hn::Mul(hn::Mul(t, t), hn::NegMulAdd(two, t, three));
    };
    // The shorter way round the circle, in sixths: 0..3.
    V away = hn::Sub(h, hn::Set(d, params[0]));
    away = hn::NegMulAdd(hn::Round(hn::Mul(away, hn::Set(d, 1.0f / 6.0f))), hn::Set(d, 6.0f), away);
    const V beyond = hn::Sub(hn::Abs(away), hn::Set(d, params[1]));
    V weight = hn::Sub(one, smooth(hn::Mul(beyond, hn::Set(d, params[2]))));
    weight = hn::Mul(weight, smooth(hn::Mul(s, hn::Set(d, params[3]))));
    return params[4] != 0.0f ? hn::Sub(one, weight) : weight;
}

/// Double hexcone (Joblove and Greenberg 1978): hue in sixths, saturation 0..1, lightness. Negative
/// components count as 0; above white the saturation is the one of the colour scaled down to white.
template <class D, class V = hn::Vec<D>>
HWY_INLINE void ToHsl(D d, V r, V g, V b, V& h, V& s, V& l) {
    const V zero = hn::Zero(d), one = hn::Set(d, 1.0f);
    V sHsv = zero, v = zero;
    ToHsv(d, r, g, b, h, sHsv, v);
    const V low = hn::Min(hn::Max(r, zero), hn::Min(hn::Max(g, zero), hn::Max(b, zero)));
    const V range = hn::Sub(v, low), sum = hn::Add(v, low);
    l = hn::Mul(sum, hn::Set(d, 0.5f));
    // 1 - |2l - 1| is 2l below the middle and 2 - 2l above.
    const V room = hn::Min(sum, hn::Sub(hn::Set(d, 2.0f), sum));
    const V safe = hn::Max(room, hn::Set(d, 1e-30f));
    s = hn::IfThenElseZero(hn::Gt(range, zero),
                           hn::IfThenElse(hn::Gt(room, zero), hn::Min(hn::Div(range, safe), one), one));
}

template <class D, class V = hn::Vec<D>>
HWY_INLINE void FromHsl(D d, V h, V s, V l, V& r, V& g, V& b) {
    const V one = hn::Set(d, 1.0f), two = hn::Set(d, 2.0f), zero = hn::Zero(d);
    // As HSV with v = l + c / 2 and v s' = c.
    const V c = hn::Mul(s, hn::Max(hn::Min(hn::Mul(l, two), hn::Sub(two, hn::Mul(l, two))), zero));
    const V v = hn::MulAdd(c, hn::Set(d, 0.5f), l);
    const auto some = hn::Gt(v, zero);
    const V sHsv = hn::IfThenElseZero(some, hn::Min(hn::Div(c, hn::IfThenElse(some, v, one)), one));
    FromHsv(d, h, sHsv, v, r, g, b);
}

/// The cube root, odd-symmetric: exp and log, then one step of Newton. 3e-7 relative.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V CubeRoot(D d, V x) {
    const V a = hn::Abs(x), y = PowPositive(d, a, hn::Set(d, 1.0f / 3.0f));
    const V square = hn::Max(hn::Mul(y, y), hn::Set(d, 1e-30f));
    const V better = hn::Sub(y, hn::Mul(hn::Sub(y, hn::Div(a, square)), hn::Set(d, 1.0f / 3.0f)));
    return hn::CopySign(hn::IfThenElseZero(hn::Gt(y, hn::Zero(d)), better), x);
}

/// x m[0] + y m[1] + z m[2]
template <class D, class V = hn::Vec<D>>
HWY_INLINE V Weighted(D d, V x, V y, V z, float a, float b, float c) {
    return hn::MulAdd(x, hn::Set(d, a), hn::MulAdd(y, hn::Set(d, b), hn::Mul(z, hn::Set(d, c))));
}

/// OKLab of linear Rec.709. Source: B. Ottosson 2020.
template <class D, class V = hn::Vec<D>>
HWY_INLINE void ToOklab(D d, V r, V g, V b, V& L, V& A, V& B) {
    const V l = CubeRoot(d, Weighted(d, r, g, b, 0.4122214708f, 0.5363325363f, 0.0514459929f));
    const V m = CubeRoot(d, Weighted(d, r, g, b, 0.2119034982f, 0.6806995451f, 0.1073969566f));
    const V s = CubeRoot(d, Weighted(d, r, g, b, 0.0883024619f, 0.2817188376f, 0.6299787005f));
    L = Weighted(d, l, m, s, 0.2104542553f, 0.7936177850f, -0.0040720468f);
    A = Weighted(d, l, m, s, 1.9779984951f, -2.4285922050f, 0.4505937099f);
    B = Weighted(d, l, m, s, 0.0259040371f, 0.7827717662f, -0.8086757660f);
}

template <class D, class V = hn::Vec<D>>
HWY_INLINE void FromOklab(D d, V L, V A, V B, V& r, V& g, V& b) {
    const auto cube = [](V v) { return hn::Mul(v, hn::Mul(v, v)); };
    const V l = cube(Weighted(d, L, A, B, 1, 0.3963377774f, 0.2158037573f));
    const V m = cube(Weighted(d, L, A, B, 1, -0.1055613458f, -0.0638541728f));
    const V s = cube(Weighted(d, L, A, B, 1, -0.0894841775f, -1.2914855480f));
    r = Weighted(d, l, m, s, 4.0767416621f, -3.3077115913f, 0.2309699292f);
    g = Weighted(d, l, m, s, -1.2684380046f, 2.6097574011f, -0.3413193965f);
    b = Weighted(d, l, m, s, -0.0041960863f, -0.7034186147f, 1.7076147010f);
}

/// The angle of (x, y) in turns, [0, 1); 0 where both are 0. 2e-7 turns.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V TurnsOf(D d, V x, V y) {
    const V zero = hn::Zero(d), one = hn::Set(d, 1.0f);
    const V ax = hn::Abs(x), ay = hn::Abs(y);
    const V high = hn::Max(ax, ay), low = hn::Min(ax, ay);
    const auto some = hn::Gt(high, hn::Set(d, 1e-30f));
    V turns = hn::Mul(hn::Atan(d, hn::Div(low, hn::IfThenElse(some, high, one))), hn::Set(d, 0.15915494309f));
    turns = hn::IfThenElse(hn::Gt(ay, ax), hn::Sub(hn::Set(d, 0.25f), turns), turns);
    turns = hn::IfThenElse(hn::Lt(x, zero), hn::Sub(hn::Set(d, 0.5f), turns), turns);
    turns = hn::IfThenElse(hn::Lt(y, zero), hn::Sub(one, turns), turns);
    turns = hn::IfThenElse(hn::Ge(turns, one), hn::Sub(turns, one), turns);
    return hn::IfThenElseZero(some, turns);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif  // KETTLE_MODELS_INL_H_
