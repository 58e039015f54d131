// Map: reads one of the set's finished maps, as it lies in the texture or placed otherwise: repeated, turned,
// moved, mirrored, laid on from the model's three sides, with its repetition broken up.
#include <cmath>

#include "core/steps/emitting.h"
#include "core/steps/map.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/map.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/normals-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: three normals (x, y, z) as the maps seen from the three sides have them, their weights (3), and of the
/// surface normal (3), tangent (3) and its side. Out: the normal in the surface's tangent space. Each side's
/// slopes are added to the surface's own (whiteout, for each plane), weighted, and turned into its frame.
void NormalsFromSides(const KernelCall& k) {
    using D = hn::ScalableTag<float>;
    const D d;
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto at = [&](int r) { return hn::Load(d, k.in[r] + i); };
        const auto nx = at(12), ny = at(13), nz = at(14);
        const auto one = hn::Set(d, 1.0f);
        const auto sx = hn::CopySign(one, nx), sy = hn::CopySign(one, ny), sz = hn::CopySign(one, nz);
        // Seen from the side of x, across is -z and up is y; of y, across is x and up -z; of z, x and y: each
        // turned round where the surface faces the other way.
        const auto xz = hn::MulAdd(hn::Neg(sx), at(0), nz), xy = hn::Add(at(1), ny), xx = hn::Mul(at(2), nx);
        const auto yx = hn::Add(at(3), nx), yz = hn::MulAdd(hn::Neg(sy), at(4), nz), yy = hn::Mul(at(5), ny);
        const auto zx = hn::MulAdd(sz, at(6), nx), zy = hn::Add(at(7), ny), zz = hn::Mul(at(8), nz);
        const auto wx = at(9), wy = at(10), wz = at(11);
        const auto sum = [&](auto a, auto b, auto c) {
            return hn::MulAdd(a, wx, hn::MulAdd(b, wy, hn::Mul(c, wz)));
        };
        const auto n = Normalised(d, Direction<D>{sum(xx, yx, zx), sum(xy, yy, zy), sum(xz, yz, zz)});
        // The frame: tangent across the normal, and what stands on both.
        const auto dotted = [](auto ax, auto ay, auto az, auto bx, auto by, auto bz) {
            return hn::MulAdd(ax, bx, hn::MulAdd(ay, by, hn::Mul(az, bz)));
        };
        const auto along = dotted(at(15), at(16), at(17), nx, ny, nz);
        const auto t =
            Normalised(d, Direction<D>{hn::NegMulAdd(along, nx, at(15)), hn::NegMulAdd(along, ny, at(16)),
                                       hn::NegMulAdd(along, nz, at(17))});
        const auto side = at(18);
        const auto bx = hn::Mul(side, hn::MulSub(ny, t.z, hn::Mul(nz, t.y))),
                   by = hn::Mul(side, hn::MulSub(nz, t.x, hn::Mul(nx, t.z))),
                   bz = hn::Mul(side, hn::MulSub(nx, t.y, hn::Mul(ny, t.x)));
        StoreIf(d, dotted(n.x, n.y, n.z, t.x, t.y, t.z), k.out[0], i);
        StoreIf(d, dotted(n.x, n.y, n.z, bx, by, bz), k.out[1], i);
        StoreIf(d, dotted(n.x, n.y, n.z, nx, ny, nz), k.out[2], i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
constexpr NumberHandle kCount{"count"};
constexpr NumberHandle kPicturesAcross{"pictures-across"}, kPicturesUp{"pictures-up"};
constexpr ToggleHandle kBreakUp{"break-up"};
constexpr NumberHandle kStamp{"stamp"};
constexpr NumberHandle kSizeVary{"size-vary"};
constexpr NumberHandle kTurnVary{"turn-vary"};
constexpr NumberHandle kApart{"apart"};
constexpr NumberHandle kSoft{"soft"};
constexpr NumberHandle kSpots{"spots"};

HWY_EXPORT(NormalsFromSides);
const Op kNormalsFromSides{"normals-from-sides", [](const KernelCall& k) {
                               HWY_DYNAMIC_DISPATCH(NormalsFromSides)(k);
                           }};

/// A full turn's sine and cosine, exact at quarters.
struct Turn {
    double c, s;
    explicit Turn(double degrees) {
        const double within = std::remainder(degrees, 360.0), radians = within * 3.14159265358979323846 / 180;
        const bool isQuarter = std::fmod(within, 90.0) == 0;
        c = isQuarter ? std::round(std::cos(radians)) : std::cos(radians);
        s = isQuarter ? std::round(std::sin(radians)) : std::sin(radians);
    }
};

bool fromSides(const StepView& v) {
    return v[kProjection] == MapProjection::Triplanar;
}

/// Scaled, turned about the middle of the texture (or the model's origin), then moved.
Placed placedOf(const StepView& v, Placed::Plane plane, bool isNormals) {
    const Turn turn(v[kRotation]);
    const bool inTexture = plane == Placed::Plane::Texture;
    const bool scatters = v[kProjection] == MapProjection::Scattered;
    const double scale = scatters    ? std::clamp(std::floor(std::fabs(v[kCount])), 1.0, 1000.0)
                         : inTexture ? std::clamp(std::fabs(v[kRepeats]), 1e-4, 1e5)
                                     : 1 / std::clamp(std::fabs(v[kSize]), 1e-4, 1e9);
    const double middle = inTexture ? 0.5 : 0, corner = inTexture ? scale / 2 : 0;
    const double c = turn.c * scale, s = turn.s * scale;
    Placed p;
    p.plane = plane;
    p.across = v[kWrapU], p.up = v[kWrapV];
    p.breaksUp = v[kBreakUp];
    p.isNormals = isNormals;
    if (!inTexture) p.sharpness = static_cast<std::uint8_t>(sideSharpness(v));
    p.seed =
        p.breaksUp ? static_cast<std::uint32_t>(std::fmod(std::fabs(std::floor(v[kSeed])), 4294967296.0)) : 0;
    if (scatters) {
        p.scatters = true;
        p.period = std::fmod(std::fabs(v[kRotation]), 90.0) == 0 ? static_cast<float>(scale) : 0;
        p.breaksUp = false;
        p.across = p.up = Placed::Beyond::Repeat;
        p.stamp = static_cast<float>(std::clamp(v[kStamp], 0.01, 1.4));
        p.sizeVary = static_cast<float>(std::clamp(v[kSizeVary], 0.0, 1.0));
        p.turnVary = static_cast<float>(std::clamp(v[kTurnVary], 0.0, 180.0));
        p.apart = static_cast<float>(std::clamp(v[kApart], 0.0, 1.0));
        p.soft = static_cast<float>(std::clamp(v[kSoft], 0.0, 1.0));
        const auto pictures = [&](NumberHandle control) {
            return static_cast<std::uint8_t>(std::clamp(std::floor(v[control]), 1.0, 16.0));
        };
        p.picturesAcross = pictures(kPicturesAcross), p.picturesUp = pictures(kPicturesUp);
        p.seed = static_cast<std::uint32_t>(std::fmod(std::fabs(std::floor(v[kSpots])), 4294967296.0));
    }
    p.xx = static_cast<float>(c), p.xy = static_cast<float>(s);
    p.yx = static_cast<float>(-s), p.yy = static_cast<float>(c);
    p.x0 = static_cast<float>(corner - v[kOffsetU] - middle * (c + s));
    p.y0 = static_cast<float>(corner - v[kOffsetV] - middle * (c - s));
    return p;
}

Value rawOf(Emitter& e, const Placed& placed) {
    MapSource map{e.step().set, e.step().role, placed, {}};
    if (placed.scatters) map.where = e.fedApart(kWhere);
    const auto read = [&](int c) { return e.program().source({map}, c); };
    return {Kind::Colour, read(0), read(1), read(2), read(3)};
}

/// A normal map's direction, turned with its placement.
Value turnedNormal(Emitter& e, const Value& raw) {
    ProgramBuilder& p = e.program();
    Value n = decodeNormal(p, raw, e[kGreen] == Green::Down);
    const Turn turn(e[kRotation]);
    if (turn.c == 1) return n;
    const auto mixed = [&](double a, double b) {
        const Reg first =
            p.emit(arithmeticOp(Arithmetic::Multiply), {n.r, e.constant(static_cast<float>(a))});
        return p.emit(arithmeticOp(Arithmetic::MultiplyAdd), {n.g, e.constant(static_cast<float>(b)), first});
    };
    const Reg x = mixed(turn.c, -turn.s), y = mixed(turn.s, turn.c);
    n.r = x, n.g = y;
    return n;
}

/// The map as it is seen from the model's three sides, laid into each other.
Value sidesOf(Emitter& e) {
    ProgramBuilder& p = e.program();
    const Reg weights = sideWeights(e, meshAttribute(p, SurfaceAttribute::Normal, 0),
                                    meshAttribute(p, SurfaceAttribute::Normal, 1),
                                    meshAttribute(p, SurfaceAttribute::Normal, 2));
    const bool isNormals = e.kind() == Kind::Normal;
    constexpr Placed::Plane kPlanes[] = {Placed::Plane::X, Placed::Plane::Y, Placed::Plane::Z};
    std::array<Value, 3> seen;
    for (std::size_t i = 0; i < 3; ++i) {
        seen[i] = rawOf(e, placedOf(e, kPlanes[i], isNormals));
        if (isNormals) seen[i] = turnedNormal(e, seen[i]);
    }
    if (isNormals) {
        std::vector<Reg> in;
        for (const Value& n : seen) in.insert(in.end(), {n.r, n.g, n.b});
        for (Reg i = 0; i < 3; ++i) in.push_back(weights + i);
        for (int c = 0; c < 3; ++c) in.push_back(meshAttribute(p, SurfaceAttribute::Normal, c));
        for (int c = 0; c < 3; ++c) in.push_back(meshAttribute(p, SurfaceAttribute::Tangent, c));
        in.push_back(meshAttribute(p, SurfaceAttribute::TangentSide));
        const Reg n = p.emit(kNormalsFromSides, in, {}, 3);
        return {Kind::Normal, n, n + 1, n + 2, kNoReg};
    }
    const auto laid = [&](Reg a, Reg b, Reg c) {
        Reg sum = p.emit(arithmeticOp(Arithmetic::Multiply), {a, weights});
        sum = p.emit(arithmeticOp(Arithmetic::MultiplyAdd), {b, weights + 1, sum});
        return p.emit(arithmeticOp(Arithmetic::MultiplyAdd), {c, weights + 2, sum});
    };
    return {Kind::Colour, laid(seen[0].r, seen[1].r, seen[2].r), laid(seen[0].g, seen[1].g, seen[2].g),
            laid(seen[0].b, seen[1].b, seen[2].b), laid(seen[0].a, seen[1].a, seen[2].a)};
}

Value emit(Emitter& e) {
    const bool isNormals = e.kind() == Kind::Normal;
    if (fromSides(e) && isNormals) return sidesOf(e);
    const Value raw = fromSides(e) ? sidesOf(e) : rawOf(e, placedOf(e, Placed::Plane::Texture, isNormals));
    if (isNormals) return turnedNormal(e, raw);
    if (e.kind() == Kind::Colour)
        return e.space().isRec709() ? raw : transformValue(e.program(), raw, e.space().fromRec709);
    const Component component = e[kMapComponent];
    Reg one = componentOf(e.program(), raw, component);
    // Laid once it is surrounded by its edge's numbers, and by no coverage: a grey has no alpha to say so.
    const bool isOnce = e[kWrapU] == Placed::Beyond::Once || e[kWrapV] == Placed::Beyond::Once;
    if (isOnce && e.step().version > 1 && e[kProjection] == MapProjection::Uv &&
        component != Component::Alpha)
        one = e.program().emit(arithmeticOp(Arithmetic::Multiply), {one, raw.a});
    return {Kind::Scalar, one, one, one, kNoReg};
}

/// How all maps of a set lie, but for those that lie on their own.
std::vector<ControlSpec> placementControls() {
    const auto straight = [](ControlSpec c) {
        return shownWhile(kProjection, {MapProjection::Uv}, std::move(c));
    };
    const auto sides = [](ControlSpec c) {
        return shownWhile(kProjection, {MapProjection::Triplanar}, std::move(c));
    };
    const auto stamps = [](ControlSpec c) {
        return shownWhile(kProjection, {MapProjection::Scattered}, std::move(c));
    };
    const auto whole = [](ControlSpec c) {
        return shownWhile(kProjection, {MapProjection::Uv, MapProjection::Triplanar}, std::move(c));
    };
    std::vector<ControlSpec> controls{
        choiceControl(
            kProjection, "Lies", MapProjection::Uv,
            "In the texture it follows the texture coordinates. From three sides it is laid on in "
            "centimetres and knows no seams. Scattered it lies in stamps, with nothing between: lay it "
            "over another line with its own transparency."),
        straight(numberControl(kRepeats, "Repeats", 1, 0.25, 16, "×",
                               "How often it fits across the texture's square.", 2)),
        sides(numberControl(kSize, "Size", 20, 1, 100, "cm", "How much of the model one repeat covers.", 1)),
        sides(numberControl(kSeam, "Seam", 0.3, 0, 1, "",
                            "How softly the three sides go over into each other.")),
        stamps(numberControl(kCount, "Stamps across", 6, 1, 32, "",
                             "How many lie across the texture's square; a whole number meets at the edges.",
                             0)),
        stamps(numberControl(kStamp, "Stamp size", 0.7, 0.05, 1.4, "×",
                             "How large a stamp is beside its share of the square.")),
        stamps(numberControl(kSizeVary, "Sizes vary", 0.3, 0, 1, "",
                             "By what share they are smaller, at random.")),
        stamps(numberControl(kTurnVary, "Turns vary", 180, 0, 180, "°",
                             "By how much they are turned, at random.", 0)),
        stamps(numberControl(kApart, "Distance", 0, 0, 1, "×",
                             "Of stamps whose middles lie nearer than this one falls out.")),
        stamps(numberControl(
            kSoft, "Soft edge", 0, 0, 1, "",
            "How much of a stamp's border fades; pictures with alpha have edges of their own.")),
        stamps(numberControl(kPicturesAcross, "Pictures across", 1, 1, 8, "",
                             "How many pictures the map holds side by side; each stamp is one of them.", 0)),
        stamps(numberControl(kPicturesUp, "Pictures up", 1, 1, 8, "",
                             "How many pictures it holds one above the other.", 0)),
        numberControl(kRotation, "Rotation", 0, -180, 180, "°", "Turned anticlockwise; normals turn with it.",
                      1),
        numberControl(kOffsetU, "Offset across", 0, -1, 1, "", "Moves it by so many repeats.", 3),
        numberControl(kOffsetV, "Offset up", 0, -1, 1, "", "Moves it by so many repeats.", 3),
        whole(choiceControl(kWrapU, "Across", Placed::Beyond::Repeat, "What comes beside it.")),
        whole(choiceControl(kWrapV, "Up", Placed::Beyond::Repeat, "What comes above and below it.")),
        whole(toggleControl(
            kBreakUp, "Break up", false,
            "Lays hexagonal pieces of it at random, so that no repeat is seen; as often dark and light as "
            "before.")),
        shownWhile(kBreakUp, seedControl(kSeed, "Another number, other pieces.")),
        stamps(seedControl(kSpots, "Another number, other spots."))};
    for (ControlSpec& c : controls) c.ofSet = true, c.perSquare = c.id == kRepeats.id || c.id == kCount.id;
    return controls;
}

}  // namespace

Placed placementOf(const StepView& view) {
    return placedOf(view, Placed::Plane::Texture, view.kind() == Kind::Normal);
}

StepSpec mapStep() {
    StepSpec spec;
    spec.type = kMap;
    spec.order = 10;
    spec.name = "Map";
    spec.purpose = "Reads one of the set's finished maps.";
    spec.source = true;
    spec.onModel = fromSides;
    spec.kinds = {Kind::Colour, Kind::Scalar, Kind::Normal};
    ControlSpec component = choiceControl(
        kMapComponent, "Reads", Component::Red,
        "On a grey line: which component of the picture is read. Soft edges of a mask are often in alpha. "
        "Displayed grey: the luminance of a colour picture, as a display shows it.");
    ControlSpec green =
        choiceControl(kGreen, "Green", Green::Up, "On a normal line: which way the green component points.");
    // Each is read on one kind of line alone.
    component.kinds = {Kind::Scalar};
    green.kinds = {Kind::Normal};
    spec.controls = placementControls();
    spec.controls.insert(spec.controls.begin(), {component, green});
    spec.controls.push_back(toggleControl(kOwnPlace, "On its own", false,
                                          "Lies as it is told here, and not as the other maps of its set. "
                                          "What is changed here then changes this map alone."));
    spec.feeds = {
        {kWhere.id, "Where", Kind::Scalar,
         "How likely a stamp lies, asked at its middle: none where it is black, all where it is white, "
         "and each of them whole."}};
    spec.feeds.front() = shownWhile(kProjection, {MapProjection::Scattered}, spec.feeds.front());
    spec.feeds.front().ofSet = true;
    spec.editor = StepEditor::MapFile;
    spec.telling = [](const StepView& v) {
        std::string what = v.step().role;
        if (v.kind() == Kind::Scalar && v[kMapComponent] != Component::Red)
            what += std::string(", ") + idOf(v[kMapComponent]);
        if (v.kind() == Kind::Normal && v[kGreen] == Green::Down) what += ", green down";
        if (fromSides(v)) what += ", from three sides";
        return what;
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
