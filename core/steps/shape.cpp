// Shape: figures without a picture, one to each piece of the pattern: disc, ring, rectangle, polygon, star,
// stripes, checks, dots, bricks, hexagons. Every edge is as soft as a point covers, at any distance: a figure
// is the share of the point that its signed distance leaves, and what is finer than a point its mean.
#include <fmt/format.h>

#include <numbers>

#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/shape.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/shape-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: x, y, covered.
template <class Figure, class Pieces>
HWY_INLINE void Draw(const KernelCall& k, Pieces&& pieces) {
    using D = hn::ScalableTag<float>;
    const D d;
    const hn::RebindToUnsigned<D> du;
    const hn::RebindToSigned<D> di;
    const ShapeParams& n = *reinterpret_cast<const ShapeParams*>(k.params);
    const auto zero = hn::Zero(d), one = hn::Set(d, 1.0f), half = hn::Set(d, 0.5f);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto covered = hn::Load(d, k.in[2] + i);
        const Piece<D> p = pieces(d, hn::Load(d, k.in[0] + i), hn::Load(d, k.in[1] + i), n);
        const auto distance = Figure::Distance(d, p, covered, n);
        const auto edge = hn::Max(hn::Add(covered, hn::Set(d, n.soft)), hn::Set(d, 1e-6f));
        auto inside = hn::Min(hn::Max(hn::Sub(half, hn::Div(distance, edge)), zero), one);
        if (n.soft > 0)
            inside =
                hn::Mul(hn::Mul(inside, inside), hn::NegMulAdd(hn::Set(d, 2.0f), inside, hn::Set(d, 3.0f)));
        auto column = p.column, row = p.row;
        if (n.period > 0) {
            const auto wrap = [&](auto c) {
                return hn::NegMulAdd(hn::Floor(hn::Mul(hn::Add(c, half), hn::Set(d, 1 / n.period))),
                                     hn::Set(d, n.period), c);
            };
            column = wrap(column), row = wrap(row);
        }
        const auto most = hn::Set(d, 8388608.0f);
        const auto whole = [&](auto c) {
            return hn::BitCast(du, hn::ConvertTo(di, hn::Min(hn::Max(hn::Add(c, c), hn::Neg(most)), most)));
        };
        const auto h = Hashed(du, hn::Xor(hn::Xor(hn::Mul(whole(column), hn::Set(du, kWrapU)),
                                                  hn::Mul(whole(row), hn::Set(du, kWrapV))),
                                          hn::Set(du, static_cast<std::uint32_t>(n.seed) * 0x9E3779B9u)));
        const auto own = hn::NegMulAdd(UnitOf(d, h), hn::Set(d, n.vary), one);
        auto value = hn::Mul(inside, own);
        if (n.single > 0) {
            const auto isOther = hn::Or(hn::Ne(p.column, zero), hn::Ne(p.row, zero));
            value = hn::IfThenElse(isOther, zero, value);
        } else {
            // Whole pieces under one point: their mean.
            const auto seen =
                hn::Min(hn::Max(hn::MulSub(covered, hn::Set(d, -1.0f), hn::Set(d, -1.5f)), zero), one);
            const auto mean = hn::Set(d, n.mean);
            value = hn::MulAdd(hn::Sub(value, mean), seen, mean);
        }
        hn::Store(value, d, k.out[0] + i);
    }
}

template <class Figure>
HWY_INLINE void DrawSquare(const KernelCall& k) {
    Draw<Figure>(k, [](auto d, auto x, auto y, const ShapeParams&) { return SquarePiece(d, x, y); });
}
void DrawDisc(const KernelCall& k) {
    DrawSquare<Disc>(k);
}
void DrawRing(const KernelCall& k) {
    DrawSquare<Ring>(k);
}
void DrawRectangle(const KernelCall& k) {
    DrawSquare<Rectangle>(k);
}
void DrawPolygon(const KernelCall& k) {
    DrawSquare<Angular<false>>(k);
}
void DrawStar(const KernelCall& k) {
    DrawSquare<Angular<true>>(k);
}
void DrawStripes(const KernelCall& k) {
    DrawSquare<Stripes>(k);
}
void DrawChecks(const KernelCall& k) {
    DrawSquare<Checks>(k);
}
/// Discs in rows that are shifted by half a piece.
void DrawDots(const KernelCall& k) {
    Draw<Disc>(k, [](auto d, auto x, auto y, const ShapeParams&) {
        const auto row = hn::Floor(y),
                   odd = hn::Sub(row, hn::Mul(hn::Floor(hn::Mul(row, hn::Set(d, 0.5f))), hn::Set(d, 2.0f)));
        auto p = SquarePiece(d, hn::MulAdd(odd, hn::Set(d, -0.5f), x), y);
        p.column = hn::MulAdd(odd, hn::Set(d, 0.5f), p.column);
        return p;
    });
}
void DrawBricks(const KernelCall& k) {
    Draw<Brick>(k, [](auto d, auto x, auto y, const ShapeParams&) {
        const auto half = hn::Set(d, 0.5f), two = hn::Set(d, 2.0f);
        const auto row = hn::Floor(hn::Mul(y, two)),
                   odd = hn::Sub(row, hn::Mul(hn::Floor(hn::Mul(row, half)), two));
        const auto shifted = hn::MulAdd(odd, hn::Neg(half), x), column = hn::Floor(shifted);
        return Piece<decltype(d)>{hn::Sub(hn::Sub(shifted, column), half),
                                  hn::Sub(y, hn::MulAdd(row, half, hn::Set(d, 0.25f))),
                                  hn::MulAdd(odd, half, column), hn::Mul(row, half)};
    });
}
/// Cells one wide and, corner to corner, 2/sqrt(3) high, in rows that are shifted by half: of the middles of
/// two nets the nearer one. Rows are drawn together so that a whole number of pairs fits upright.
void DrawHexagons(const KernelCall& k) {
    Draw<Hexagon>(k, [](auto d, auto x, auto y, const ShapeParams&) {
        const auto half = hn::Set(d, 0.5f), up = hn::Set(d, 1.7320508f), share = hn::Set(d, 0.57735027f);
        const auto ax = hn::Add(hn::Floor(x), half),
                   ay = hn::MulAdd(hn::Floor(hn::Mul(y, share)), up, hn::Mul(up, half));
        const auto bx = hn::Floor(hn::Add(x, half)), by = hn::Mul(hn::Floor(hn::MulAdd(y, share, half)), up);
        const auto adx = hn::Sub(x, ax), ady = hn::Sub(y, ay), bdx = hn::Sub(x, bx), bdy = hn::Sub(y, by);
        const auto isA =
            hn::Lt(hn::MulAdd(adx, adx, hn::Mul(ady, ady)), hn::MulAdd(bdx, bdx, hn::Mul(bdy, bdy)));
        const auto row = hn::Mul(hn::IfThenElse(isA, ay, by), share);
        return Piece<decltype(d)>{hn::IfThenElse(isA, adx, bdx), hn::IfThenElse(isA, ady, bdy),
                                  hn::IfThenElse(isA, ax, bx), hn::Mul(hn::Round(hn::Add(row, row)), half)};
    });
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
enum class Figure { Disc, Ring, Rectangle, Polygon, Star, Stripes, Checks, Dots, Bricks, Hexagons };
constexpr Option<Figure> kFigures[] = {{Figure::Disc, "disc", "disc"},
                                       {Figure::Ring, "ring", "ring"},
                                       {Figure::Rectangle, "rectangle", "rectangle"},
                                       {Figure::Polygon, "polygon", "polygon"},
                                       {Figure::Star, "star", "star"},
                                       {Figure::Stripes, "stripes", "stripes"},
                                       {Figure::Checks, "checks", "checks"},
                                       {Figure::Dots, "dots", "dots"},
                                       {Figure::Bricks, "bricks", "bricks"},
                                       {Figure::Hexagons, "hexagons", "hexagons"}};
constexpr ChoiceHandle<Figure> kFigure{"figure", kFigures};
constexpr ToggleHandle kSingle{"single"};
constexpr NumberHandle kFills{"fills"};
constexpr NumberHandle kHeight{"height"};
constexpr NumberHandle kInner{"inner"};
constexpr NumberHandle kJoint{"joint"};
constexpr NumberHandle kCorners{"corners"};
constexpr NumberHandle kRound{"round"};
constexpr NumberHandle kSoft{"soft"};
constexpr NumberHandle kVary{"vary"};

HWY_EXPORT(DrawDisc);
HWY_EXPORT(DrawRing);
HWY_EXPORT(DrawRectangle);
HWY_EXPORT(DrawPolygon);
HWY_EXPORT(DrawStar);
HWY_EXPORT(DrawStripes);
HWY_EXPORT(DrawChecks);
HWY_EXPORT(DrawDots);
HWY_EXPORT(DrawBricks);
HWY_EXPORT(DrawHexagons);

double discArea(const ShapeParams& n) {
    return std::numbers::pi / 4 * static_cast<double>(n.large) * static_cast<double>(n.large);
}
/// Half the product of two sides and the sine between, 2 n times.
double wedges(const ShapeParams& n, double dent) {
    return static_cast<double>(n.corners) * 0.5 * static_cast<double>(n.large) * dent *
           std::sin(std::numbers::pi / static_cast<double>(n.corners));
}

/// A figure's kernel, and how much of a piece it fills.
struct Drawing {
    Figure figure;
    Op op;
    double (*area)(const ShapeParams&);
};
const Drawing kDrawings[] = {
    {Figure::Disc,
     {"shape-disc",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawDisc)
          (k);
      }},
     discArea},
    {Figure::Ring,
     {"shape-ring",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawRing)
          (k);
      }},
     [](const ShapeParams& n) { return discArea(n) * (1 - static_cast<double>(n.inner * n.inner)); }},
    {Figure::Rectangle,
     {"shape-rectangle",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawRectangle)
          (k);
      }},
     [](const ShapeParams& n) {
         const double w = static_cast<double>(n.large), h = w * static_cast<double>(n.inner);
         const double r = static_cast<double>(n.round) * std::min(w, h) / 2;
         return w * h - (4 - std::numbers::pi) * r * r;
     }},
    {Figure::Polygon,
     {"shape-polygon",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawPolygon)
          (k);
      }},
     [](const ShapeParams& n) {
         return wedges(n, 0.5 * static_cast<double>(n.large) *
                              std::cos(std::numbers::pi / static_cast<double>(n.corners)));
     }},
    {Figure::Star,
     {"shape-star",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawStar)
          (k);
      }},
     [](const ShapeParams& n) { return wedges(n, 0.5 * static_cast<double>(n.large * n.inner)); }},
    {Figure::Stripes,
     {"shape-stripes",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawStripes)
          (k);
      }},
     [](const ShapeParams& n) { return static_cast<double>(n.large); }},
    {Figure::Checks,
     {"shape-checks",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawChecks)
          (k);
      }},
     [](const ShapeParams&) { return 0.5; }},
    {Figure::Dots,
     {"shape-dots",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawDots)
          (k);
      }},
     discArea},
    {Figure::Bricks,
     {"shape-bricks",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawBricks)
          (k);
      }},
     [](const ShapeParams& n) {
         const double w = 1 - static_cast<double>(n.inner), h = 0.5 - static_cast<double>(n.inner);
         const double r = static_cast<double>(n.round) * std::max(0.0, std::min(w, h)) / 2;
         return 2 * (std::max(0.0, w * h) - (4 - std::numbers::pi) * r * r);
     }},
    {Figure::Hexagons,
     {"shape-hexagons",
      [](const KernelCall& k) {
          HWY_DYNAMIC_DISPATCH(DrawHexagons)
          (k);
      }},
     [](const ShapeParams& n) { return static_cast<double>((1 - n.inner) * (1 - n.inner)); }},
};
const Drawing& drawingOf(Figure figure) {
    return *std::find_if(std::begin(kDrawings), std::end(kDrawings) - 1,
                         [&](const Drawing& d) { return d.figure == figure; });
}

ShapeParams paramsOf(const StepView& v) {
    const Figure figure = v[kFigure];
    const bool isJoint = figure == Figure::Bricks || figure == Figure::Hexagons;
    const auto limited = [&](NumberHandle control, double low, double high) {
        return static_cast<float>(std::clamp(v[control], low, high));
    };
    const bool varies =
        isJoint || figure == Figure::Dots || figure == Figure::Checks || figure == Figure::Disc;
    ShapeParams n{limited(kFills, 0, 1.4),
                  isJoint                       ? limited(kJoint, 0, 0.5)
                  : figure == Figure::Rectangle ? limited(kHeight, 0.01, 1)
                                                : limited(kInner, 0, 1),
                  limited(kRound, 0, 1),
                  limited(kSoft, 0, 1),
                  std::floor(limited(kCorners, 3, 64)),
                  varies ? limited(kVary, 0, 1) : 0.0f,
                  static_cast<float>(std::fmod(std::fabs(std::floor(v[kSeed])), 16777216.0)),
                  static_cast<float>(wholeRepeats(v)),
                  v[kSingle] && v[kPatternSpace] == PatternSpace::Texture ? 1.0f : 0.0f,
                  0};
    // Rows of hexagons are drawn 1.73 apart: they do not meet upright.
    if (figure == Figure::Hexagons) n.period = 0;
    n.mean = static_cast<float>(std::clamp(drawingOf(figure).area(n), 0.0, 1.0)) * (1 - 0.5f * n.vary);
    return n;
}

Value emit(Emitter& e) {
    ProgramBuilder& p = e.program();
    const ShapeParams n = paramsOf(e);
    const std::vector<float> params{n.large, n.inner, n.round,  n.soft,   n.corners,
                                    n.vary,  n.seed,  n.period, n.single, n.mean};
    const std::vector<PatternPoint> points = patternPoints(e);
    std::vector<Reg> values;
    for (const PatternPoint& at : points) {
        Reg x = at.x, y = at.y;
        if (n.single > 0) {
            // The middle of a single figure lies in the middle of the square.
            const auto half = p.constant(static_cast<float>(0.5 - patternRepeats(e) / 2));
            x = p.emit(arithmeticOp(Arithmetic::Add), {x, half}),
            y = p.emit(arithmeticOp(Arithmetic::Add), {y, half});
        }
        values.push_back(p.emit(drawingOf(e[kFigure]).op, {x, y, at.covered}, params));
    }
    const Reg v = weighted(p, points, values);
    return {e.kind(), v, v, v, kNoReg};
}
}  // namespace

StepSpec shapeStep() {
    StepSpec spec;
    spec.type = "shape";
    spec.order = 44;
    spec.name = "Shape";
    spec.purpose =
        "Figures: discs, stars, stripes, checks, bricks, hexagons, with clean edges at any distance.";
    spec.source = true;
    spec.onModel = [](const StepView& v) { return v[kPatternSpace] != PatternSpace::Texture; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    const auto of = [](std::initializer_list<Figure> figures, ControlSpec c) {
        return shownWhile(kFigure, figures, std::move(c));
    };
    const auto eachIts = {Figure::Disc, Figure::Dots, Figure::Checks, Figure::Bricks, Figure::Hexagons};
    spec.controls = {
        choiceControl(kFigure, "Figure", Figure::Disc, "What stands in each piece of the pattern."),
        of({Figure::Disc, Figure::Ring, Figure::Rectangle, Figure::Polygon, Figure::Star, Figure::Stripes,
            Figure::Dots},
           numberControl(kFills, "Fills", 0.6, 0, 1, "", "How much of its piece the figure takes across.")),
        of({Figure::Rectangle}, numberControl(kHeight, "Height", 0.6, 0.05, 1, "×", "Its height in widths.")),
        of({Figure::Ring, Figure::Star},
           numberControl(kInner, "Inside", 0.5, 0, 1, "×",
                         "The ring's hole, or how deep the star's dents reach: a share of its size.")),
        of({Figure::Bricks, Figure::Hexagons},
           numberControl(kJoint, "Joint", 0.04, 0, 0.2, "", "The width of the joints, in pieces.", 3)),
        of({Figure::Polygon, Figure::Star}, numberControl(kCorners, "Corners", 5, 3, 12, "", "How many.", 0)),
        of({Figure::Rectangle, Figure::Bricks},
           numberControl(kRound, "Round", 0.1, 0, 1, "", "How round the corners are.")),
        numberControl(kSoft, "Softness", 0, 0, 0.5, "", "How soft the edges are, in pieces."),
        of(eachIts, numberControl(kVary, "Vary", 0, 0, 1, "",
                                  "How much each piece is darkened by a random number of its own.")),
        of(eachIts, seedControl(kSeed, "Another number, other random numbers."))};
    const ControlSpec single =
        shownWhile(kPatternSpace, {PatternSpace::Texture},
                   toggleControl(kSingle, "Only one", false,
                                 "One figure in the middle of the texture, and none around it."));
    std::vector<ControlSpec> place = placeControls(4, 4, false);
    spec.controls.insert(spec.controls.begin() + 1, place.begin(), place.end());
    spec.controls.push_back(single);
    spec.example = {kFigure(Figure::Bricks), kVary(0.6)};
    spec.telling = [](const StepView& v) { return std::string(kFigure.nameOf(v[kFigure])); };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
