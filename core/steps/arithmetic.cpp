// Arithmetic on numbers, each defined for every input: Maths offers the functions by name and Formula calls
// them. Where ordinary arithmetic has no answer, ours is stated in the purpose: x / 0 is 0, the root of a
// negative number is 0, a power keeps the sign of its base.
#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/arithmetic.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

template <class F>
HWY_INLINE void Unary(const KernelCall& k, F&& f) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k)) hn::Store(f(d, hn::Load(d, k.in[0] + i)), d, k.out[0] + i);
}
template <class F>
HWY_INLINE void Binary(const KernelCall& k, F&& f) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k))
        hn::Store(f(d, hn::Load(d, k.in[0] + i), hn::Load(d, k.in[1] + i)), d, k.out[0] + i);
}
template <class F>
HWY_INLINE void Ternary(const KernelCall& k, F&& f) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k))
        hn::Store(f(d, hn::Load(d, k.in[0] + i), hn::Load(d, k.in[1] + i), hn::Load(d, k.in[2] + i)), d,
                  k.out[0] + i);
}

template <class D, class V>
HWY_INLINE V DivideOrZero(D d, V a, V b) {
    const auto some = hn::Ne(b, hn::Zero(d));
    return hn::IfThenElseZero(some, hn::Div(a, hn::IfThenElse(some, b, hn::Set(d, 1.0f))));
}
template <class D, class V>
HWY_INLINE V SignedPower(D d, V x, V e) {
    const V one = hn::Set(d, 1.0f), zero = hn::Zero(d);
    const V y = hn::CopySign(PowPositive(d, hn::Abs(x), e), x);
    return hn::IfThenElse(hn::Eq(e, zero), one, hn::IfThenElse(hn::Eq(e, one), x, y));
}
template <class D, class V>
HWY_INLINE V Sine(D d, V degrees) {
    // Brought to one turn first: the library's sine is exact only near zero.
    const V turns = hn::Mul(degrees, hn::Set(d, 1.0f / 360.0f));
    return hn::Sin(d, hn::Mul(hn::Sub(turns, hn::Round(turns)), hn::Set(d, 6.28318530718f)));
}
template <class D, class V>
HWY_INLINE V SmoothBetween(D d, V low, V high, V x) {
    const V one = hn::Set(d, 1.0f), zero = hn::Zero(d), width = hn::Sub(high, low);
    const auto hard = hn::Eq(width, zero);
    const V t = hn::Min(hn::Max(hn::Div(hn::Sub(x, low), hn::IfThenElse(hard, one, width)), zero), one);
    const V smooth = hn::Mul(hn::Mul(t, t), hn::NegMulAdd(hn::Set(d, 2.0f), t, hn::Set(d, 3.0f)));
    return hn::IfThenElse(hard, hn::IfThenElseZero(hn::Ge(x, low), one), smooth);
}

// name, expression
#define KETTLE_UNARY_LIST(F)                                                                             \
    F(Absolute, hn::Abs(x))                                                                              \
    F(Negate, hn::Neg(x))                                                                                \
    F(OneMinus, hn::Sub(hn::Set(d, 1.0f), x))                                                            \
    F(Floor, hn::Floor(x))                                                                               \
    F(Ceiling, hn::Ceil(x))                                                                              \
    F(Round, hn::Floor(hn::Add(x, hn::Set(d, 0.5f))))                                                    \
    F(Fraction, hn::Sub(x, hn::Floor(x)))                                                                \
    F(Sign, hn::IfThenElse(hn::Gt(x, hn::Zero(d)), hn::Set(d, 1.0f),                                     \
                           hn::IfThenElseZero(hn::Lt(x, hn::Zero(d)), hn::Set(d, -1.0f))))               \
    F(Saturate, hn::Min(hn::Max(x, hn::Zero(d)), hn::Set(d, 1.0f)))                                      \
    F(SquareRoot, hn::Sqrt(hn::Max(x, hn::Zero(d))))                                                     \
    F(CubeRootOf, CubeRoot(d, x))                                                                        \
    F(Exponential, hn::Exp(d, hn::Min(x, hn::Set(d, 88.0f))))                                            \
    F(Logarithm, hn::IfThenElseZero(hn::Gt(x, hn::Zero(d)), hn::Log(d, hn::Max(x, hn::Set(d, 1e-37f))))) \
    F(SineOf, Sine(d, x))                                                                                \
    F(CosineOf, Sine(d, hn::Add(x, hn::Set(d, 90.0f))))                                                  \
    F(SmoothOf, SmoothBetween(d, hn::Zero(d), hn::Set(d, 1.0f), x))                                      \
    F(EncodeOf, EncodeSrgb(d, x))                                                                        \
    F(DecodeOf, DecodeSrgb(d, x))

#define KETTLE_BINARY_LIST(F)                                                                            \
    F(Add, hn::Add(x, y))                                                                                \
    F(Subtract, hn::Sub(x, y))                                                                           \
    F(Multiply, hn::Mul(x, y))                                                                           \
    F(Divide, DivideOrZero(d, x, y))                                                                     \
    F(Power, SignedPower(d, x, y))                                                                       \
    F(Smaller, hn::Min(x, y))                                                                            \
    F(Larger, hn::Max(x, y))                                                                             \
    F(Modulo,                                                                                            \
      hn::NegMulAdd(hn::Floor(DivideOrZero(d, x, y)), y, hn::IfThenElseZero(hn::Ne(y, hn::Zero(d)), x))) \
    F(StepAt, hn::IfThenElseZero(hn::Ge(x, y), hn::Set(d, 1.0f)))                                        \
    F(IsGreater, hn::IfThenElseZero(hn::Gt(x, y), hn::Set(d, 1.0f)))                                     \
    F(IsEqual, hn::IfThenElseZero(hn::Eq(x, y), hn::Set(d, 1.0f)))                                       \
    F(Distance, hn::Abs(hn::Sub(x, y)))                                                                  \
    F(ArcTangent, hn::Mul(TurnsOf(d, y, x), hn::Set(d, 360.0f)))

#define KETTLE_TERNARY_LIST(F)                      \
    F(Limit, hn::Min(hn::Max(x, y), hn::Max(y, z))) \
    F(MixOf, hn::MulAdd(z, hn::Sub(y, x), x))       \
    F(SmoothStep, SmoothBetween(d, y, z, x))        \
    F(MultiplyAdd, hn::MulAdd(x, y, z))             \
    F(Select, hn::IfThenElse(hn::Ne(x, hn::Zero(d)), y, z))

#define KETTLE_UNARY(Name, expression) \
    void Name(const KernelCall& k) {   \
        Unary(k, [](auto d, auto x) {  \
            (void)d;                   \
            return expression;         \
        });                            \
    }
#define KETTLE_BINARY(Name, expression)        \
    void Name(const KernelCall& k) {           \
        Binary(k, [](auto d, auto x, auto y) { \
            (void)d;                           \
            return expression;                 \
        });                                    \
    }
#define KETTLE_TERNARY(Name, expression)                \
    void Name(const KernelCall& k) {                    \
        Ternary(k, [](auto d, auto x, auto y, auto z) { \
            (void)d;                                    \
            return expression;                          \
        });                                             \
    }
KETTLE_UNARY_LIST(KETTLE_UNARY)
KETTLE_BINARY_LIST(KETTLE_BINARY)
KETTLE_TERNARY_LIST(KETTLE_TERNARY)

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
#define KETTLE_EXPORT(Name, expression) HWY_EXPORT(Name);
KETTLE_UNARY_LIST(KETTLE_EXPORT)
KETTLE_BINARY_LIST(KETTLE_EXPORT)
KETTLE_TERNARY_LIST(KETTLE_EXPORT)
#define KETTLE_ROW(function, id, name, inputs, purpose, Name)              \
    ArithmeticFunction {                                                   \
        Arithmetic::function, id, name, inputs, purpose, {                 \
            id, [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Name)(k); } \
        }                                                                  \
    }
}  // namespace

const std::vector<ArithmeticFunction>& arithmetic() {
    static const std::vector<ArithmeticFunction> list{
        KETTLE_ROW(Add, "add", "add", 2, "x + b", Add),
        KETTLE_ROW(Subtract, "subtract", "subtract", 2, "x − b", Subtract),
        KETTLE_ROW(Multiply, "multiply", "multiply", 2, "x × b", Multiply),
        KETTLE_ROW(Divide, "divide", "divide", 2, "x / b; 0 where b is 0", Divide),
        KETTLE_ROW(Power, "power", "power", 2, "x to the power b; keeps the sign of x", Power),
        KETTLE_ROW(Min, "min", "minimum", 2, "the smaller of both", Smaller),
        KETTLE_ROW(Max, "max", "maximum", 2, "the larger of both", Larger),
        KETTLE_ROW(Modulo, "mod", "modulo", 2, "what is left of x after whole b; 0 where b is 0", Modulo),
        KETTLE_ROW(Distance, "distance", "distance", 2, "how far apart both are", Distance),
        KETTLE_ROW(Step, "step", "step", 2, "1 from b on, 0 below", StepAt),
        KETTLE_ROW(Greater, "greater", "greater", 2, "1 where x is above b, else 0", IsGreater),
        KETTLE_ROW(Equal, "equal", "equal", 2, "1 where both are the same, else 0", IsEqual),
        KETTLE_ROW(SmoothStep, "smoothstep", "smooth step", 3, "0 below b, 1 above c, a smooth curve between",
                   SmoothStep),
        KETTLE_ROW(Clamp, "clamp", "clamp", 3, "x, kept between b and c", Limit),
        KETTLE_ROW(Mix, "mix", "mix", 3, "x where c is 0, b where c is 1", MixOf),
        KETTLE_ROW(MultiplyAdd, "multiply-add", "multiply and add", 3, "x × b + c", MultiplyAdd),
        KETTLE_ROW(Select, "select", "select", 3, "b where x is not 0, else c", Select),
        KETTLE_ROW(Absolute, "abs", "absolute", 1, "x without its sign", Absolute),
        KETTLE_ROW(Negate, "negate", "negate", 1, "−x", Negate),
        KETTLE_ROW(OneMinus, "one-minus", "one minus", 1, "1 − x", OneMinus),
        KETTLE_ROW(Floor, "floor", "floor", 1, "the whole number below", Floor),
        KETTLE_ROW(Ceiling, "ceil", "ceiling", 1, "the whole number above", Ceiling),
        KETTLE_ROW(Round, "round", "round", 1, "the nearest whole number", Round),
        KETTLE_ROW(Fraction, "fract", "fraction", 1, "what is behind the point", Fraction),
        KETTLE_ROW(Sign, "sign", "sign", 1, "−1, 0 or 1", Sign),
        KETTLE_ROW(Saturate, "saturate", "limit to 0..1", 1, "x, kept between 0 and 1", Saturate),
        KETTLE_ROW(SquareRoot, "sqrt", "square root", 1, "0 where x is negative", SquareRoot),
        KETTLE_ROW(CubeRoot, "cbrt", "cube root", 1, "keeps the sign of x", CubeRootOf),
        KETTLE_ROW(Exponential, "exp", "exponential", 1, "e to the power x", Exponential),
        KETTLE_ROW(Logarithm, "log", "logarithm", 1, "natural; 0 where x is not positive", Logarithm),
        KETTLE_ROW(Sine, "sin", "sine", 1, "of x in degrees", SineOf),
        KETTLE_ROW(Cosine, "cos", "cosine", 1, "of x in degrees", CosineOf),
        KETTLE_ROW(ArcTangent, "atan2", "arc tangent", 2, "the angle of (b, x) in degrees, 0 to 360",
                   ArcTangent),
        KETTLE_ROW(Smooth, "smooth", "smooth", 1, "0..1 made smooth at both ends", SmoothOf),
        KETTLE_ROW(Encode, "encode", "encode", 1, "light to display numbers (sRGB)", EncodeOf),
        KETTLE_ROW(Decode, "decode", "decode", 1, "display numbers (sRGB) to light", DecodeOf),
    };
    return list;
}

const ArithmeticFunction* findArithmetic(std::string_view id) {
    for (const ArithmeticFunction& f : arithmetic())
        if (id == f.id) return &f;
    return nullptr;
}

const Op& arithmeticOp(Arithmetic function) {
    return arithmetic()[static_cast<std::size_t>(function)].op;
}

}  // namespace kettle
#endif
