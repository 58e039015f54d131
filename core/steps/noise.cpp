// Noise: random patterns without a picture, summed over octaves. What a kind's sum spreads over 0..1 is the
// same for all: the mean is 0.5 and, with contrast 1, 0 and 1 lie three standard deviations away for gradient
// and value noise. Octaves that are finer than a point fade to their mean.
#include <fmt/format.h>

#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/noise.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/noise-inl.h"

#ifndef KETTLE_NOISE_CPP_ONCE_
#define KETTLE_NOISE_CPP_ONCE_
namespace kettle {
/// The kernels' numbers, in their order.
struct NoiseParams {
    float seed, octaves, lacunarity, gain, period, distortion, contrast, balance, reading;
};
}  // namespace kettle
#endif

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

enum class NoiseKind { Gradient, Value, Cells, Ridged, Turbulence };

/// Standard deviations of one octave, from the integral over a cell.
template <bool kSpace>
inline constexpr float kGradientSpread = kSpace ? 0.190944f : 0.215711f;
template <bool kSpace>
inline constexpr float kValueSpread = kSpace ? 0.200221f : 0.226191f;

/// What an octave has where it is too fine to be seen: its mean. Of cells by simulation of the very lattice.
template <NoiseKind kKind, bool kSpace>
HWY_INLINE float MeanOf(Reading reading) {
    if (kKind == NoiseKind::Gradient || kKind == NoiseKind::Value) return 0;
    // The mean of a normal spread's absolute value, three standard deviations being 1.
    if (kKind == NoiseKind::Ridged) return 1 - 0.266f;
    if (kKind == NoiseKind::Turbulence) return 0.266f;
    if (reading == Reading::Cell) return 0.5f;
    if (reading == Reading::Nearest) return kSpace ? 0.5085f : 0.4275f;
    if (reading == Reading::Second) return 0.75f * (kSpace ? 0.7163f : 0.6999f);
    return kSpace ? 0.2077f : 0.2724f;
}

/// One octave: gradient and value around 0, one standard deviation being a third; the others 0..1.
template <NoiseKind kKind, bool kSpace, class D>
HWY_INLINE hn::Vec<D> Octave(D d, const At<D>& p, float period, std::uint32_t seed, Reading reading) {
    if constexpr (kKind == NoiseKind::Cells) {
        return Cells<kSpace, D>(d, p, period, seed).read(d, reading);
    } else if constexpr (kKind == NoiseKind::Value) {
        const auto v = hn::Sub(ValueNoise<kSpace>(d, p, period, seed), hn::Set(d, 0.5f));
        return hn::Mul(v, hn::Set(d, 1 / (3 * kValueSpread<kSpace>)));
    } else {
        const auto g =
            hn::Mul(GradientNoise<kSpace>(d, p, period, seed), hn::Set(d, 1 / (3 * kGradientSpread<kSpace>)));
        if constexpr (kKind == NoiseKind::Gradient) return g;
        const auto folded = hn::Min(hn::Abs(g), hn::Set(d, 1.0f));
        return kKind == NoiseKind::Ridged ? hn::Sub(hn::Set(d, 1.0f), folded) : folded;
    }
}

/// in: x, y, (z,) covered; params: NoiseParams.
template <NoiseKind kKind, bool kSpace>
HWY_INLINE void Noise(const KernelCall& k) {
    using D = hn::ScalableTag<float>;
    const D d;
    const NoiseParams& n = *reinterpret_cast<const NoiseParams*>(k.params);
    const int octaves = static_cast<int>(n.octaves);
    const auto reading = static_cast<Reading>(static_cast<int>(n.reading));
    const auto seed = static_cast<std::uint32_t>(n.seed) * 0x9E3779B9u;
    constexpr bool kSigned = kKind == NoiseKind::Gradient || kKind == NoiseKind::Value;
    float sum = 0, squares = 0, amplitude = 1;
    for (int o = 0; o < octaves; ++o, amplitude *= n.gain) sum += amplitude, squares += amplitude * amplitude;
    // Octaves do not know of each other: their spreads add as squares, their means as they are.
    const float share = kSigned ? 0.5f / std::sqrt(squares) : 1 / sum;
    const float mean = MeanOf<kKind, kSpace>(reading);
    const auto zero = hn::Zero(d), one = hn::Set(d, 1.0f);
    for (const std::size_t i : VectorsOf(d, k)) {
        At<D> p{hn::Load(d, k.in[0] + i), hn::Load(d, k.in[1] + i),
                kSpace ? hn::Load(d, k.in[2] + i) : hn::Zero(d)};
        const auto covered = hn::Load(d, k.in[kSpace ? 3 : 2] + i);
        if (n.distortion != 0) {
            const auto by = hn::Set(d, n.distortion);
            const auto u = GradientNoise<kSpace>(d, p, n.period, seed + 0x68E31DA4u);
            const auto v = GradientNoise<kSpace>(d, p, n.period, seed + 0xB5297A4Du);
            p.x = hn::MulAdd(u, by, p.x), p.y = hn::MulAdd(v, by, p.y);
        }
        auto result = zero;
        float frequency = 1, weight = share, period = n.period;
        for (int o = 0; o < octaves; ++o) {
            const auto f = hn::Set(d, frequency);
            const At<D> at{hn::Mul(p.x, f), hn::Mul(p.y, f), hn::Mul(p.z, f)};
            // Seen in full up to a third of its cell's width, and not at all from a whole one.
            const auto seen = hn::Min(
                hn::Max(hn::MulSub(covered, hn::Set(d, -1.5f * frequency), hn::Set(d, -1.5f)), zero), one);
            const auto octave = Octave<kKind, kSpace>(
                d, at, period, seed + static_cast<std::uint32_t>(o) * 0x3C6EF372u, reading);
            const auto m = hn::Set(d, mean);
            result = hn::MulAdd(hn::MulAdd(hn::Sub(octave, m), seen, m), hn::Set(d, weight), result);
            frequency *= n.lacunarity, period *= n.lacunarity, weight *= n.gain;
        }
        const auto middle = kSigned ? result : hn::Sub(result, hn::Set(d, 0.5f));
        const auto out = hn::MulAdd(middle, hn::Set(d, n.contrast), hn::Set(d, 0.5f + n.balance));
        hn::Store(hn::Min(hn::Max(out, zero), one), d, k.out[0] + i);
    }
}

void Gradient2(const KernelCall& k) {
    Noise<NoiseKind::Gradient, false>(k);
}
void Gradient3(const KernelCall& k) {
    Noise<NoiseKind::Gradient, true>(k);
}
void Value2(const KernelCall& k) {
    Noise<NoiseKind::Value, false>(k);
}
void Value3(const KernelCall& k) {
    Noise<NoiseKind::Value, true>(k);
}
void Cells2(const KernelCall& k) {
    Noise<NoiseKind::Cells, false>(k);
}
void Cells3(const KernelCall& k) {
    Noise<NoiseKind::Cells, true>(k);
}
void Ridged2(const KernelCall& k) {
    Noise<NoiseKind::Ridged, false>(k);
}
void Ridged3(const KernelCall& k) {
    Noise<NoiseKind::Ridged, true>(k);
}
void Turbulence2(const KernelCall& k) {
    Noise<NoiseKind::Turbulence, false>(k);
}
void Turbulence3(const KernelCall& k) {
    Noise<NoiseKind::Turbulence, true>(k);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
constexpr InputHandle kBend{"bend"};
constexpr NumberHandle kDistortion{"distortion"};
/// What is read of random points, one to a cell; as the kernels count.
enum class CellReading { Nearest, Second, Edge, Own };
constexpr Option<CellReading> kReadings[] = {{CellReading::Nearest, "nearest", "the nearest"},
                                             {CellReading::Second, "second", "the second"},
                                             {CellReading::Edge, "edge", "edges"},
                                             {CellReading::Own, "cell", "own numbers"}};
constexpr ChoiceHandle<CellReading> kReading{"reading", kReadings};
constexpr NumberHandle kOctaves{"octaves"};
constexpr NumberHandle kLacunarity{"lacunarity"};
constexpr NumberHandle kDetail{"detail"};
constexpr NumberHandle kContrast{"contrast"};
constexpr NumberHandle kBalance{"balance"};
enum class NoiseKind { Soft, Blotchy, Cells, Ridges, Billows };
constexpr Option<NoiseKind> kNoiseKinds[] = {{NoiseKind::Soft, "gradient", "soft"},
                                             {NoiseKind::Blotchy, "value", "blotchy"},
                                             {NoiseKind::Cells, "cells", "cells"},
                                             {NoiseKind::Ridges, "ridged", "ridges"},
                                             {NoiseKind::Billows, "turbulence", "billows"}};
constexpr ChoiceHandle<NoiseKind> kKind{"kind", kNoiseKinds};

HWY_EXPORT(Gradient2);
HWY_EXPORT(Gradient3);
HWY_EXPORT(Value2);
HWY_EXPORT(Value3);
HWY_EXPORT(Cells2);
HWY_EXPORT(Cells3);
HWY_EXPORT(Ridged2);
HWY_EXPORT(Ridged3);
HWY_EXPORT(Turbulence2);
HWY_EXPORT(Turbulence3);

/// On a plane, and in space.
struct KindOps {
    NoiseKind kind;
    Op plane, space;
};
const KindOps kKinds[] = {
    {NoiseKind::Soft,
     {"noise-gradient",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Gradient2)
          (k);
      },
      0, true},
     {"noise-gradient-space",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Gradient3)
          (k);
      },
      0, true}},
    {NoiseKind::Blotchy,
     {"noise-value",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Value2)
          (k);
      },
      0, true},
     {"noise-value-space",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Value3)
          (k);
      },
      0, true}},
    {NoiseKind::Cells,
     {"noise-cells",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Cells2)
          (k);
      },
      0, true},
     {"noise-cells-space",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Cells3)
          (k);
      },
      0, true}},
    {NoiseKind::Ridges,
     {"noise-ridged",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Ridged2)
          (k);
      },
      0, true},
     {"noise-ridged-space",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Ridged3)
          (k);
      },
      0, true}},
    {NoiseKind::Billows,
     {"noise-turbulence",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Turbulence2)
          (k);
      },
      0, true},
     {"noise-turbulence-space",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(Turbulence3)
          (k);
      },
      0, true}},
};
/// Moves a point by what a line says there: its red across, its green up, half being no move.
void distort(Emitter& e, PatternPoint& at) {
    const auto by = e.fed(kBend, Kind::Colour);
    const double amount = e[kDistortion];
    if (!by || amount == 0) return;
    ProgramBuilder& p = e.program();
    const auto moved = [&](Reg from, Reg value) {
        const Reg away = p.emit(arithmeticOp(Arithmetic::Subtract), {value, p.constant(0.5f)});
        const Reg far =
            p.emit(arithmeticOp(Arithmetic::Multiply), {away, p.constant(static_cast<float>(2 * amount))});
        return p.emit(arithmeticOp(Arithmetic::Add), {from, far});
    };
    at.x = moved(at.x, by->r);
    at.y = moved(at.y, by->g);
}

NoiseParams paramsOf(const Emitter& e) {
    const double octaves = std::clamp(e[kOctaves], 1.0, 12.0);
    const double lacunarity = std::clamp(std::fabs(e[kLacunarity]), 1.0, 8.0);
    // Where finer octaves do not fit in whole, the edges do not meet.
    const bool isWhole = lacunarity == std::floor(lacunarity) || octaves < 2;
    const bool isFed = e.feed(kBend) != nullptr;
    return {static_cast<float>(std::fmod(std::fabs(std::floor(e[kSeed])), 16777216.0)),
            static_cast<float>(std::floor(octaves)),
            static_cast<float>(lacunarity),
            static_cast<float>(std::clamp(e[kDetail], 0.0, 1.0)),
            isWhole ? static_cast<float>(wholeRepeats(e)) : 0.0f,
            isFed ? 0.0f : static_cast<float>(2 * e[kDistortion]),
            e.real(kContrast),
            e.real(kBalance),
            static_cast<float>(e[kReading])};
}

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const KindOps& ops = *std::find_if(std::begin(kKinds), std::end(kKinds) - 1,
                                       [kind = e[kKind]](const KindOps& k) { return k.kind == kind; });
    const NoiseParams n = paramsOf(e);
    const std::vector<float> params{n.seed,       n.octaves,  n.lacunarity, n.gain,   n.period,
                                    n.distortion, n.contrast, n.balance,    n.reading};
    std::vector<PatternPoint> points = patternPoints(e);
    std::vector<Reg> values;
    for (PatternPoint& at : points) {
        distort(e, at);
        values.push_back(at.z == kNoReg ? p.emit(ops.plane, {at.x, at.y, at.covered}, params)
                                        : p.emit(ops.space, {at.x, at.y, at.z, at.covered}, params));
    }
    const Reg v = weighted(p, points, values);
    return {e.kind(), v, v, v, kNoReg};
}
}  // namespace

StepSpec noiseStep() {
    StepSpec spec;
    spec.type = "noise";
    spec.order = 42;
    spec.name = "Noise";
    spec.purpose = "A random pattern: clouds, blotches, cells, veins.";
    spec.source = true;
    spec.onModel = [](const StepView& v) { return v[kPatternSpace] != PatternSpace::Texture; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    spec.controls = {
        choiceControl(kKind, "Kind", NoiseKind::Soft,
                      "Soft is gradient noise, blotchy value noise. Ridges and billows are soft noise "
                      "folded at its middle.")};
    ControlSpec reading = choiceControl(
        kReading, "Reads", CellReading::Nearest,
        "Of random points, one to a cell: how far the nearest is, or the second, how much nearer it is "
        "than the second, or a number of its own.");
    spec.controls.push_back(shownWhile(kKind, {NoiseKind::Cells}, reading));
    for (ControlSpec& c : placeControls(8, 2, true)) spec.controls.push_back(std::move(c));
    ControlSpec octaves =
        numberControl(kOctaves, "Octaves", 4, 1, 10, "", "How many ever finer layers are summed.", 0);
    ControlSpec seed = seedControl(kSeed, "Another number, another pattern.");
    for (ControlSpec& c : std::vector<ControlSpec>{
             octaves,
             numberControl(kDetail, "Detail", 0.5, 0, 1, "",
                           "How strong each finer layer is beside the one before."),
             numberControl(kLacunarity, "Finer by", 2, 1.5, 4, "×",
                           "How much finer each layer is than the one before."),
             numberControl(kDistortion, "Distortion", 0, 0, 2, "",
                           "How far the pattern is bent, in its pieces: by itself, or by the line "
                           "that is joined."),
             numberControl(kContrast, "Contrast", 1, 0, 4, "×",
                           "1 spreads it over 0 to 1; more makes blacks and whites."),
             numberControl(kBalance, "Balance", 0, -0.5, 0.5, "",
                           "Towards white above 0, towards black below."),
             seed})
        spec.controls.push_back(std::move(c));
    spec.feeds = {{kBend.id, "Bent by", Kind::Colour,
                   "A line that bends the pattern: its red across, its green up, mid grey not at all."}};
    spec.example = {kOctaves(5.0)};
    spec.telling = [](const StepView& v) { return std::string(kKind.nameOf(v[kKind])); };
    spec.noEffect = [](const StepView& v) -> std::string {
        return v[kContrast] == 0 ? "the contrast is 0: it is the same everywhere" : "";
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
