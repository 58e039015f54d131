// Map: reads one of the set's finished maps, as it lies in the texture or placed otherwise: repeated, turned,
// moved, mirrored, laid on from the model's three sides, with its repetition broken up.
#include <cmath>

#include "core/steps/emitting.h"
#include "core/steps/map_placement.h"

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
HWY_EXPORT(NormalsFromSides);
const Op kNormalsFromSides{"normals-from-sides", [](const KernelCall& k) {
                               HWY_DYNAMIC_DISPATCH(NormalsFromSides)(k);
                           }};

Placed::Beyond beyondOf(const std::string& choice) {
    return choice == "mirror" ? Placed::Beyond::Mirror
           : choice == "once" ? Placed::Beyond::Once
                              : Placed::Beyond::Repeat;
}

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
    return v.choice("lies") == "sides";
}

/// Scaled, turned about the middle of the texture (or the model's origin), then moved.
Placed placedOf(const StepView& v, Placed::Plane plane, bool isNormals) {
    const Turn turn(v.number("rotation"));
    const bool inTexture = plane == Placed::Plane::Texture;
    const bool scatters = v.choice("lies") == "scattered";
    const double scale = scatters    ? std::clamp(std::floor(std::fabs(v.number("count"))), 1.0, 1000.0)
                         : inTexture ? std::clamp(std::fabs(v.number("repeats")), 1e-4, 1e5)
                                     : 1 / std::clamp(std::fabs(v.number("size")), 1e-4, 1e9);
    const double middle = inTexture ? 0.5 : 0, corner = inTexture ? scale / 2 : 0;
    const double c = turn.c * scale, s = turn.s * scale;
    Placed p;
    p.plane = plane;
    p.across = beyondOf(v.choice("across")), p.up = beyondOf(v.choice("up"));
    p.breaksUp = v.toggle("break-up");
    p.isNormals = isNormals;
    if (!inTexture) p.sharpness = static_cast<std::uint8_t>(sideSharpness(v));
    p.seed =
        p.breaksUp
            ? static_cast<std::uint32_t>(std::fmod(std::fabs(std::floor(v.number("seed"))), 4294967296.0))
            : 0;
    if (scatters) {
        p.scatters = true;
        p.period = std::fmod(std::fabs(v.number("rotation")), 90.0) == 0 ? static_cast<float>(scale) : 0;
        p.breaksUp = false;
        p.across = p.up = Placed::Beyond::Repeat;
        p.stamp = static_cast<float>(std::clamp(v.number("stamp"), 0.01, 1.4));
        p.sizeVary = static_cast<float>(std::clamp(v.number("size-vary"), 0.0, 1.0));
        p.turnVary = static_cast<float>(std::clamp(v.number("turn-vary"), 0.0, 180.0));
        p.apart = static_cast<float>(std::clamp(v.number("apart"), 0.0, 1.0));
        p.soft = static_cast<float>(std::clamp(v.number("soft"), 0.0, 1.0));
        const auto pictures = [&](const char* id) {
            return static_cast<std::uint8_t>(std::clamp(std::floor(v.number(id)), 1.0, 16.0));
        };
        p.picturesAcross = pictures("pictures-across"), p.picturesUp = pictures("pictures-up");
        p.seed =
            static_cast<std::uint32_t>(std::fmod(std::fabs(std::floor(v.number("spots"))), 4294967296.0));
    }
    p.xx = static_cast<float>(c), p.xy = static_cast<float>(s);
    p.yx = static_cast<float>(-s), p.yy = static_cast<float>(c);
    p.x0 = static_cast<float>(corner - v.number("offset-u") - middle * (c + s));
    p.y0 = static_cast<float>(corner - v.number("offset-v") - middle * (c - s));
    return p;
}

Value rawOf(Emitter& e, const Placed& placed) {
    SourceKey key{SourceKind::Map, e.step().set, e.step().role, {}, {}, placed};
    if (placed.scatters) key.where = e.fedApart("where");
    const auto read = [&](int c) { return e.program().source(key, c); };
    return {Kind::Colour, read(0), read(1), read(2), read(3)};
}

/// A normal map's direction, turned with its placement.
Value turnedNormal(Emitter& e, const Value& raw) {
    ProgramBuilder& p = e.program();
    Value n = decodeNormal(p, raw, e.choice("green") == "down");
    const Turn turn(e.number("rotation"));
    if (turn.c == 1) return n;
    const auto mixed = [&](double a, double b) {
        const Reg first = p.emit(arithmeticOp("multiply"), {n.r, e.constant(static_cast<float>(a))});
        return p.emit(arithmeticOp("multiply-add"), {n.g, e.constant(static_cast<float>(b)), first});
    };
    const Reg x = mixed(turn.c, -turn.s), y = mixed(turn.s, turn.c);
    n.r = x, n.g = y;
    return n;
}

/// The map as it is seen from the model's three sides, laid into each other.
Value sidesOf(Emitter& e) {
    ProgramBuilder& p = e.program();
    const Reg weights =
        sideWeights(e, modelFact(p, "normal", 0), modelFact(p, "normal", 1), modelFact(p, "normal", 2));
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
        for (int c = 0; c < 3; ++c) in.push_back(modelFact(p, "normal", c));
        for (int c = 0; c < 3; ++c) in.push_back(modelFact(p, "tangent", c));
        in.push_back(modelFact(p, "tangent-side"));
        const Reg n = p.emit(kNormalsFromSides, in, {}, 3);
        return {Kind::Normal, n, n + 1, n + 2, kNoReg};
    }
    const auto laid = [&](Reg a, Reg b, Reg c) {
        Reg sum = p.emit(arithmeticOp("multiply"), {a, weights});
        sum = p.emit(arithmeticOp("multiply-add"), {b, weights + 1, sum});
        return p.emit(arithmeticOp("multiply-add"), {c, weights + 2, sum});
    };
    return {Kind::Colour, laid(seen[0].r, seen[1].r, seen[2].r), laid(seen[0].g, seen[1].g, seen[2].g),
            laid(seen[0].b, seen[1].b, seen[2].b), laid(seen[0].a, seen[1].a, seen[2].a)};
}

Reg greyOf(Emitter& e, const Value& raw) {
    if (e.choice("component") != "grey") return componentOf(e.program(), raw, e.choice("component"));
    // The picture's numbers are those of a display, its grey is that of their light.
    const Value light = decodeValue(e.program(), raw);
    return componentOf(e.program(), light, "luminance", {}, NumberSpace::DisplayEncoded);
}

Value emit(Emitter& e) {
    const bool isNormals = e.kind() == Kind::Normal;
    if (fromSides(e) && isNormals) return sidesOf(e);
    const Value raw = fromSides(e) ? sidesOf(e) : rawOf(e, placedOf(e, Placed::Plane::Texture, isNormals));
    if (isNormals) return turnedNormal(e, raw);
    if (e.kind() == Kind::Colour)
        return e.space().isRec709() ? raw : transformValue(e.program(), raw, e.space().fromRec709);
    Reg one = greyOf(e, raw);
    // Laid once it is surrounded by its edge's numbers, and by no coverage: a grey has no alpha to say so.
    const bool isOnce = e.choice("across") == "once" || e.choice("up") == "once";
    if (isOnce && e.step().version > 1 && e.choice("lies") == "straight" && e.choice("component") != "alpha")
        one = e.program().emit(arithmeticOp("multiply"), {one, raw.a});
    return {Kind::Scalar, one, one, one, kNoReg};
}

/// How all maps of a set lie, but for those that lie on their own.
std::vector<ControlSpec> placementControls() {
    const auto shownFor = [](ControlSpec control, const char* by, std::vector<std::string> values) {
        control.shownBy = by, control.shownFor = std::move(values);
        return control;
    };
    const std::vector<Choice> beyond{{"repeat", "repeats"}, {"mirror", "mirrors"}, {"once", "once"}};
    const std::vector<std::string> all{"straight", "sides"}, scattered{"scattered"};
    std::vector<ControlSpec> controls{
        choiceControl(
            "lies", "Lies", "straight",
            {{"straight", "in the texture"}, {"sides", "from three sides"}, {"scattered", "scattered"}},
            "In the texture it follows the texture coordinates. From three sides it is laid on in "
            "centimetres and knows no seams. Scattered it lies in stamps, with nothing between: lay it "
            "over another line with its own transparency."),
        shownFor(numberControl("repeats", "Repeats", 1, 0.25, 16, "×",
                               "How often it fits across the texture's square.", 2),
                 "lies", {"straight"}),
        shownFor(
            numberControl("size", "Size", 20, 1, 100, "cm", "How much of the model one repeat covers.", 1),
            "lies", {"sides"}),
        shownFor(numberControl("seam", "Seam", 0.3, 0, 1, "",
                               "How softly the three sides go over into each other."),
                 "lies", {"sides"}),
        shownFor(numberControl("count", "Stamps across", 6, 1, 32, "",
                               "How many lie across the texture's square; "
                               "a whole number meets at the edges.",
                               0),
                 "lies", scattered),
        shownFor(numberControl("stamp", "Stamp size", 0.7, 0.05, 1.4, "×",
                               "How large a stamp is beside its share of the square."),
                 "lies", scattered),
        shownFor(numberControl("size-vary", "Sizes vary", 0.3, 0, 1, "",
                               "By what share they are smaller, at random."),
                 "lies", scattered),
        shownFor(numberControl("turn-vary", "Turns vary", 180, 0, 180, "°",
                               "By how much they are turned, at random.", 0),
                 "lies", scattered),
        shownFor(numberControl("apart", "Distance", 0, 0, 1, "×",
                               "Of stamps whose middles lie nearer than this one falls out."),
                 "lies", scattered),
        shownFor(
            numberControl("soft", "Soft edge", 0, 0, 1, "",
                          "How much of a stamp's border fades; pictures with alpha have edges of their own."),
            "lies", scattered),
        shownFor(numberControl("pictures-across", "Pictures across", 1, 1, 8, "",
                               "How many pictures the map holds side by side; each stamp is one of them.", 0),
                 "lies", scattered),
        shownFor(numberControl("pictures-up", "Pictures up", 1, 1, 8, "",
                               "How many pictures it holds one above the other.", 0),
                 "lies", scattered),
        numberControl("rotation", "Rotation", 0, -180, 180, "°",
                      "Turned anticlockwise; normals turn with it.", 1),
        numberControl("offset-u", "Offset across", 0, -1, 1, "", "Moves it by so many repeats.", 3),
        numberControl("offset-v", "Offset up", 0, -1, 1, "", "Moves it by so many repeats.", 3),
        shownFor(choiceControl("across", "Across", "repeat", beyond, "What comes beside it."), "lies", all),
        shownFor(choiceControl("up", "Up", "repeat", beyond, "What comes above and below it."), "lies", all),
        shownFor(toggleControl(
                     "break-up", "Break up", false,
                     "Lays hexagonal pieces of it at random, so that no repeat is seen; as often dark and "
                     "light as before."),
                 "lies", all),
        shownFor(numberControl("seed", "Seed", 1, 1, 100, "", "Another number, other pieces.", 0), "break-up",
                 {"true"}),
        shownFor(numberControl("spots", "Seed", 1, 1, 100, "", "Another number, other spots.", 0), "lies",
                 scattered)};
    for (ControlSpec& c : controls) c.ofSet = true, c.perSquare = c.id == "repeats" || c.id == "count";
    return controls;
}

}  // namespace

Placed placementOf(const StepView& view) {
    return placedOf(view, Placed::Plane::Texture, view.kind() == Kind::Normal);
}

StepSpec mapStep() {
    StepSpec spec;
    spec.type = "map";
    spec.order = 10;
    spec.name = "Map";
    spec.purpose = "Reads one of the set's finished maps.";
    spec.source = true;
    spec.onModel = fromSides;
    spec.kinds = {Kind::Colour, Kind::Scalar, Kind::Normal};
    ControlSpec component{"component", "Reads", ControlType::Choice, std::string("red")};
    component.choices = componentChoices();
    component.choices.push_back({"grey", "Displayed grey"});
    component.tip =
        "On a grey line: which component of the picture is read. Soft edges of a mask are often in alpha. "
        "Displayed "
        "grey: the luminance of a colour picture, as a display shows it.";
    ControlSpec green{"green", "Green", ControlType::Choice, std::string("up")};
    green.choices = {{"up", "up (OpenGL)"}, {"down", "down (DirectX)"}};
    green.tip = "On a normal line: which way the green component points.";
    // Each is read on one kind of line alone.
    component.kinds = {Kind::Scalar};
    green.kinds = {Kind::Normal};
    spec.controls = placementControls();
    spec.controls.insert(spec.controls.begin(), {component, green});
    spec.controls.push_back(toggleControl("own-place", "On its own", false,
                                          "Lies as it is told here, and not as the other maps of its set. "
                                          "What is changed here then changes this map alone."));
    spec.feeds = {
        {"where", "Where", Kind::Scalar,
         "How likely a stamp lies, asked at its middle: none where it is black, all where it is white, "
         "and each of them whole."}};
    spec.feeds.front().shownBy = "lies", spec.feeds.front().shownFor = {"scattered"};
    spec.feeds.front().ofSet = true;
    spec.editor = StepEditor::MapFile;
    spec.telling = [](const StepView& v) {
        std::string what = v.step().role;
        if (v.kind() == Kind::Scalar && v.choice("component") != "red") what += ", " + v.choice("component");
        if (v.kind() == Kind::Normal && v.choice("green") == "down") what += ", green down";
        if (fromSides(v)) what += ", from three sides";
        return what;
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
