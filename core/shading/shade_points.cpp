// The lit surface on vectors of points: the one way in which surfaces are shaded.
#include "core/base/pi.h"
#include "core/shading/environment.h"
#include "core/shading/lobes.h"
#include "core/shading/surface.h"
#include "core/shading/turned_light.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/shading/shade_points.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/base/whole-inl.h"
#include "core/colour/curve-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

using D = hn::ScalableTag<float>;
using DI = hn::RebindToSigned<D>;
using V = hn::Vec<D>;
using VI = hn::Vec<DI>;

/// Three vectors: of places, directions or colours of as many points as a vector has lanes.
struct Three {
    V x, y, z;
};
HWY_INLINE V Number(float v) {
    return hn::Set(D(), v);
}
HWY_INLINE Three All(Vec3 v) {
    return {Number(v.x), Number(v.y), Number(v.z)};
}
HWY_INLINE Three Add(Three a, Three b) {
    return {hn::Add(a.x, b.x), hn::Add(a.y, b.y), hn::Add(a.z, b.z)};
}
HWY_INLINE Three Mul(Three a, Three b) {
    return {hn::Mul(a.x, b.x), hn::Mul(a.y, b.y), hn::Mul(a.z, b.z)};
}
HWY_INLINE Three Scale(Three a, V s) {
    return {hn::Mul(a.x, s), hn::Mul(a.y, s), hn::Mul(a.z, s)};
}
/// a + b s
HWY_INLINE Three AddScaled(Three a, Three b, V s) {
    return {hn::MulAdd(b.x, s, a.x), hn::MulAdd(b.y, s, a.y), hn::MulAdd(b.z, s, a.z)};
}
HWY_INLINE Three Mix(Three a, Three b, V t) {
    return {hn::MulAdd(hn::Sub(b.x, a.x), t, a.x), hn::MulAdd(hn::Sub(b.y, a.y), t, a.y),
            hn::MulAdd(hn::Sub(b.z, a.z), t, a.z)};
}
HWY_INLINE V Dot(Three a, Three b) {
    return hn::MulAdd(a.x, b.x, hn::MulAdd(a.y, b.y, hn::Mul(a.z, b.z)));
}
HWY_INLINE Three Unit(Three a) {
    return Scale(a, hn::Div(Number(1), hn::Sqrt(hn::Max(Dot(a, a), Number(1e-30f)))));
}
HWY_INLINE Three Cross(Three a, Three b) {
    return {hn::Sub(hn::Mul(a.y, b.z), hn::Mul(a.z, b.y)), hn::Sub(hn::Mul(a.z, b.x), hn::Mul(a.x, b.z)),
            hn::Sub(hn::Mul(a.x, b.y), hn::Mul(a.y, b.x))};
}
HWY_INLINE Three Turned(Three a, float c, float s) {
    const V cosine = Number(c), sine = Number(s);
    return {hn::NegMulAdd(a.z, sine, hn::Mul(a.x, cosine)), a.y, hn::MulAdd(a.x, sine, hn::Mul(a.z, cosine))};
}
/// Limited to 0..1; what is no number is 0.
HWY_INLINE V Limited(V v) {
    return hn::IfThenElseZero(hn::Gt(v, hn::Zero(D())), hn::Min(v, Number(1)));
}
/// Below 0 and what is no number: 0; never infinite.
HWY_INLINE V Positive(V v) {
    return hn::IfThenElseZero(hn::Gt(v, hn::Zero(D())), hn::Min(v, Number(1e6f)));
}
HWY_INLINE V Fifth(V x) {
    const V square = hn::Mul(x, x);
    return hn::Mul(hn::Mul(square, square), x);
}

/// Bilinear, as LobeTable::at; x and y in its cells.
struct TablePlace {
    VI at;
    V fx, fy;
    HWY_INLINE TablePlace(V cosine, V roughness) {
        constexpr int kSize = LobeTable::kSize;
        const V x = hn::Mul(Limited(cosine), Number(kSize - 1)),
                y = hn::Mul(Limited(roughness), Number(kSize - 1));
        const V last = Number(kSize - 2);
        const V x0 = hn::Min(hn::Floor(x), last), y0 = hn::Min(hn::Floor(y), last);
        fx = hn::Sub(x, x0);
        fy = hn::Sub(y, y0);
        at = NearestWhole(D(), hn::MulAdd(y0, Number(kSize), x0));
    }
    HWY_INLINE V Look(const LobeTable& table) const {
        const float* t = table.values.data();
        const D d;
        const V a = hn::GatherIndex(d, t, at), b = hn::GatherIndex(d, t + 1, at);
        const V c = hn::GatherIndex(d, t + LobeTable::kSize, at),
                e = hn::GatherIndex(d, t + LobeTable::kSize + 1, at);
        const V upper = hn::MulAdd(hn::Sub(b, a), fx, a), lower = hn::MulAdd(hn::Sub(e, c), fx, c);
        return hn::MulAdd(hn::Sub(lower, upper), fy, upper);
    }
};

/// A level of the environment's prefiltered pictures, another in each lane.
HWY_INLINE Three LookUp(const EnvironmentTables& tables, Three octahedral, VI level) {
    const D d;
    const DI di;
    const VI size = hn::GatherIndex(di, tables.size.data(), level);
    const VI start = hn::GatherIndex(di, tables.start.data(), level);
    const V width = hn::ConvertTo(d, size);
    const V x = hn::MulSub(octahedral.x, width, Number(0.5f)),
            y = hn::MulSub(octahedral.y, width, Number(0.5f));
    const VI one = hn::Set(di, 1), last = hn::Sub(size, one);
    const auto inside = [&](V at) {
        const V whole = hn::Floor(at);
        return hn::IfThenElseZero(hn::Gt(whole, hn::Zero(d)), hn::Min(whole, hn::Sub(width, Number(1))));
    };
    const V left = inside(x), upperRow = inside(y);
    const VI x0 = NearestWhole(d, left), y0 = NearestWhole(d, upperRow);
    const VI x1 = hn::Min(hn::Add(x0, one), last), y1 = hn::Min(hn::Add(y0, one), last);
    const V fx = Limited(hn::Sub(x, left)), fy = Limited(hn::Sub(y, upperRow));
    const VI rowA = hn::Add(start, hn::Mul(y0, size)), rowB = hn::Add(start, hn::Mul(y1, size));
    const auto four = [&](VI row, VI column) { return hn::ShiftLeft<2>(hn::Add(row, column)); };
    const VI a = four(rowA, x0), b = four(rowA, x1), c = four(rowB, x0), e = four(rowB, x1);
    const auto component = [&](int k) {
        const float* t = tables.texels.data() + k;
        const V va = hn::GatherIndex(d, t, a), vb = hn::GatherIndex(d, t, b), vc = hn::GatherIndex(d, t, c),
                ve = hn::GatherIndex(d, t, e);
        const V upper = hn::MulAdd(hn::Sub(vb, va), fx, va), lower = hn::MulAdd(hn::Sub(ve, vc), fx, vc);
        return hn::MulAdd(hn::Sub(lower, upper), fy, upper);
    };
    return {component(0), component(1), component(2)};
}

/// Where a direction of any length lies in an octahedral picture, 0..1 each way.
HWY_INLINE Three Octahedral(Three direction) {
    const V scale = hn::Div(
        Number(1), hn::Add(hn::Abs(direction.x), hn::Add(hn::Abs(direction.y), hn::Abs(direction.z))));
    const V x = hn::Mul(direction.x, scale), z = hn::Mul(direction.z, scale);
    const V foldedX = hn::CopySign(hn::Sub(Number(1), hn::Abs(z)), x),
            foldedZ = hn::CopySign(hn::Sub(Number(1), hn::Abs(x)), z);
    const auto below = hn::Lt(direction.y, hn::Zero(D()));
    const V half = Number(0.5f);
    return {hn::MulAdd(hn::IfThenElse(below, foldedX, x), half, half),
            hn::MulAdd(hn::IfThenElse(below, foldedZ, z), half, half), half};
}

/// Radiance from a direction as a lobe of that roughness sees it.
HWY_INLINE Three Reflected(const EnvironmentTables& tables, Three direction, V roughness) {
    const DI di;
    const Three place = Octahedral(direction);
    const V at = hn::Mul(Limited(roughness), Number(EnvironmentTables::kLevels - 1));
    const V whole = hn::Min(hn::Floor(at), Number(EnvironmentTables::kLevels - 2));
    const VI low = NearestWhole(D(), whole);
    const V t = hn::Sub(at, whole);
    return Mix(LookUp(tables, place, low), LookUp(tables, place, hn::Add(low, hn::Set(di, 1))), t);
}

/// Irradiance over pi.
HWY_INLINE Three Diffuse(const EnvironmentTables& tables, Three n) {
    return LookUp(tables, Octahedral(n), hn::Set(DI(), EnvironmentTables::kLevels));
}

/// A GGX lobe by what depends on the viewer alone.
struct GgxLobe {
    V alpha, alpha2, nv, scale, bias, lost;
    HWY_INLINE GgxLobe(V nv_, V roughness, const SpecularTables& tables) : nv(nv_) {
        // A light has a size: a mirror shows it as a disc, not as a point.
        alpha = hn::Max(hn::Mul(roughness, roughness), Number(0.03f));
        alpha2 = hn::Mul(alpha, alpha);
        const TablePlace place(nv, roughness);
        scale = place.Look(tables.scale);
        bias = place.Look(tables.bias);
        lost = hn::Sub(hn::Div(Number(1), hn::Max(hn::Add(scale, bias), Number(1e-3f))), Number(1));
    }
    /// What bounced between facets comes back with the colour's own share.
    HWY_INLINE V Given(V f0) const { return hn::MulAdd(f0, lost, Number(1)); }
    /// Of image light.
    HWY_INLINE V Albedo(V f0) const { return hn::Mul(hn::MulAdd(f0, scale, bias), Given(f0)); }
    HWY_INLINE Three Albedo(Three f0) const { return {Albedo(f0.x), Albedo(f0.y), Albedo(f0.z)}; }
    /// D V towards a light whose half vector has this cosine to the normal.
    HWY_INLINE V Peak(V nh, V nl) const {
        const V one = Number(1), rest = hn::Sub(one, alpha2);
        const V k = hn::NegMulAdd(hn::Mul(nh, nh), rest, one);
        const V a = hn::Mul(nl, hn::Sqrt(hn::MulAdd(hn::Mul(nv, nv), rest, alpha2))),
                b = hn::Mul(nv, hn::Sqrt(hn::MulAdd(hn::Mul(nl, nl), rest, alpha2)));
        return hn::Div(hn::Mul(Number(0.5f), alpha2),
                       hn::Mul(hn::Mul(Number(kPi), hn::Mul(k, k)), hn::Max(hn::Add(a, b), Number(1e-7f))));
    }
    HWY_INLINE V Facing(V f0, V fresnel) const {
        return hn::Mul(hn::MulAdd(hn::Sub(Number(1), f0), fresnel, f0), Given(f0));
    }
    HWY_INLINE Three Facing(Three f0, V fresnel) const {
        return {Facing(f0.x, fresnel), Facing(f0.y, fresnel), Facing(f0.z, fresnel)};
    }
};

/// Estevez and Kulla 2017, as lobes.cpp.
HWY_INLINE V SheenLambda(V cosine, V roughness) {
    const D d;
    const V rest = hn::Sub(Number(1), roughness), t = hn::Mul(rest, rest);
    const auto fitted = [&](float low, float high) { return hn::MulAdd(Number(high - low), t, Number(low)); };
    const V a = fitted(21.5473f, 25.3245f), b = fitted(3.82987f, 3.32435f), c = fitted(0.19823f, 0.16801f),
            slope = fitted(-1.97760f, -1.27393f), e = fitted(-4.32054f, -4.85967f);
    const auto curve = [&](V x) {
        return hn::Add(hn::MulAdd(slope, x, e), hn::Div(a, hn::MulAdd(b, PowPositive(d, x, c), Number(1))));
    };
    const auto low = hn::Lt(cosine, Number(0.5f));
    const V at = hn::Max(hn::IfThenElse(low, cosine, hn::Sub(Number(1), cosine)), Number(1e-4f));
    const V own = curve(at);
    return hn::Exp(d, hn::IfThenElse(low, own, hn::MulSub(Number(2), curve(Number(0.5f)), own)));
}

/// D V of the sheen towards a light.
HWY_INLINE V SheenPeak(V nh, V nl, V nv, V roughness) {
    const D d;
    const V one = Number(1), power = hn::Div(one, roughness);
    const V sine = hn::Sqrt(hn::Max(hn::NegMulAdd(nh, nh, one), hn::Zero(d)));
    const V density =
        hn::Mul(hn::Mul(hn::Add(Number(2), power), PowPositive(d, sine, power)), Number(0.5f / kPi));
    const V shadowed = hn::Add(one, hn::Add(SheenLambda(nv, roughness), SheenLambda(nl, roughness)));
    return hn::Div(density, hn::Mul(hn::Mul(shadowed, Number(4)), hn::Max(hn::Mul(nl, nv), Number(1e-4f))));
}

/// Where most of a rough lobe's light comes from: between the mirrored direction and the normal (Lagarde and
/// de Rousiers 2014, section 4.9.3).
HWY_INLINE Three Dominant(const Three& n, const Three& mirrored, V alpha) {
    const V smooth = Limited(hn::Sub(Number(1), alpha));
    return Mix(n, mirrored, hn::Mul(smooth, hn::Add(hn::Sqrt(smooth), alpha)));
}

/// Specular occlusion after Lagarde and de Rousiers 2014: smooth surfaces still mirror what an open direction
/// shows.
HWY_INLINE V SpecularHidden(V nv, V hidden, V roughness) {
    const D d;
    const V exponent =
        hn::Exp(d, hn::Mul(hn::MulAdd(Number(-16), roughness, Number(-1)), Number(0.6931472f)));
    const V power = PowPositive(d, hn::Add(nv, hidden), exponent);
    return Limited(hn::Add(hn::Sub(power, Number(1)), hidden));
}

/// What is common to all lobes at the points of one vector.
struct Place {
    Three n, view, key;
    V nv, nl, nh, vh, keyLight, hidden;
    Three mirrored;
};

HWY_INLINE Place PlaceOf(Three n, Three view, const TurnedLight& turn, V keyLight, V hidden) {
    Place p;
    p.view = view;
    V nv = Dot(n, view);
    // A bumped normal can turn away from the viewer, which no surface shows; bend it back to the horizon.
    const auto away = hn::Lt(nv, Number(0.02f));
    const V bend = hn::IfThenElseZero(away, hn::Sub(Number(0.02f), nv));
    const Three bent = Unit(AddScaled(n, view, bend));
    p.n = {hn::IfThenElse(away, bent.x, n.x), hn::IfThenElse(away, bent.y, n.y),
           hn::IfThenElse(away, bent.z, n.z)};
    p.nv = hn::IfThenElse(away, hn::Max(Dot(bent, view), Number(0.01f)), nv);
    p.nv = hn::Min(p.nv, Number(1));
    const V twice = hn::Mul(Number(2), Dot(p.n, view));
    p.mirrored = {hn::MulSub(p.n.x, twice, view.x), hn::MulSub(p.n.y, twice, view.y),
                  hn::MulSub(p.n.z, twice, view.z)};
    p.key = All(turn.key);
    p.nl = hn::Max(Dot(p.n, p.key), hn::Zero(D()));
    const Three h = Unit(Add(p.key, view));
    p.nh = hn::Max(hn::Min(Dot(p.n, h), Number(1)), hn::Zero(D()));
    p.vh = hn::Max(hn::Min(Dot(view, h), Number(1)), hn::Zero(D()));
    p.keyLight = keyLight;
    p.hidden = hidden;
    return p;
}

HWY_INLINE V Read(const SurfacePlanes& s, SurfacePlanes::Number number, std::size_t i) {
    const float* plane = s.plane(number);
    return plane != nullptr ? hn::LoadU(D(), plane + i) : Number(s.everywhere(number));
}
HWY_INLINE Three Read3(const SurfacePlanes& s, SurfacePlanes::Number first, std::size_t i) {
    const auto next = [&](int k) { return static_cast<SurfacePlanes::Number>(static_cast<int>(first) + k); };
    return {Read(s, first, i), Read(s, next(1), i), Read(s, next(2), i)};
}

/// Diffuse and specular of the surface itself.
HWY_INLINE Three Base(const SurfacePlanes& s, std::size_t i, const Place& p, const TurnedLight& turn,
                      const SpecularTables& lobes) {
    const V metal = Limited(Read(s, SurfacePlanes::Metalness, i)),
            rough = Limited(Read(s, SurfacePlanes::Roughness, i));
    Three base = Read3(s, SurfacePlanes::BaseRed, i);
    base = {Positive(base.x), Positive(base.y), Positive(base.z)};
    // Specular level 0.5 is the 4 % of glass and glaze.
    const V level = hn::Mul(Number(0.08f), Limited(Read(s, SurfacePlanes::SpecularLevel, i)));
    const GgxLobe lobe(p.nv, rough, lobes);
    // In between it is a mix of two surfaces, metal and not (glTF 2.0, appendix B), which keeps their energy.
    const V mirrorOfDielectric = lobe.Albedo(level);
    const Three mirrors{mirrorOfDielectric, mirrorOfDielectric, mirrorOfDielectric};
    const Three specular = Mix(mirrors, lobe.Albedo(base), metal);
    const Three diffuse =
        Scale(base, hn::Mul(hn::Sub(Number(1), metal), hn::Sub(Number(1), mirrorOfDielectric)));
    Three light = Scale(Mul(diffuse, Diffuse(*turn.tables, Turned(p.n, turn.cosine, turn.sine))), p.hidden);
    const Three around =
        Reflected(*turn.tables,
                  Turned(Dominant(p.n, p.mirrored, hn::Mul(rough, rough)), turn.cosine, turn.sine), rough);
    light = Add(light, Scale(Mul(specular, around), SpecularHidden(p.nv, p.hidden, rough)));
    const V arriving = hn::Mul(p.nl, p.keyLight);
    const V fresnel = Fifth(hn::Sub(Number(1), p.vh));
    const V facing = lobe.Facing(level, fresnel);
    const Three mirrored = Mix({facing, facing, facing}, lobe.Facing(base, fresnel), metal);
    const Three sent = AddScaled(Scale(diffuse, Number(1 / kPi)), mirrored, lobe.Peak(p.nh, p.nl));
    return Add(light, Scale(Mul(sent, All(turn.keyIrradiance)), arriving));
}

HWY_INLINE Three Sheen(const SurfacePlanes& s, std::size_t i, const Place& p, const TurnedLight& turn,
                       const LobeTable& lobes, Three below) {
    Three colour = Read3(s, SurfacePlanes::SheenRed, i);
    colour = {Limited(colour.x), Limited(colour.y), Limited(colour.z)};
    const V rough = hn::Max(Limited(Read(s, SurfacePlanes::SheenRoughness, i)), Number(0.07f));
    const V albedo = TablePlace(p.nv, rough).Look(lobes);
    const V most = hn::Max(colour.x, hn::Max(colour.y, colour.z));
    // The lobe is brightest where its half vectors lie across the normal: low, on the viewer's side. 0.7 was
    // found best against the reference.
    const Three leaning =
        AddScaled(Scale(p.n, hn::NegMulAdd(p.nv, Number(0.7f), Number(1))), p.view, Number(0.7f));
    const Three soft =
        Scale(Diffuse(*turn.tables, Turned(leaning, turn.cosine, turn.sine)), hn::Mul(albedo, p.hidden));
    const V key = hn::Mul(hn::Mul(p.nl, p.keyLight), SheenPeak(p.nh, p.nl, p.nv, rough));
    const Three sent = AddScaled(soft, All(turn.keyIrradiance), key);
    return Add(Scale(below, hn::NegMulAdd(most, albedo, Number(1))), Mul(colour, sent));
}

/// The coat lies on the surface's own normal: it fills what the normal map has carved.
HWY_INLINE Three Coat(const SurfacePlanes& s, std::size_t i, const Place& p, const TurnedLight& turn,
                      const SpecularTables& lobes, Three below) {
    const V coat = Limited(Read(s, SurfacePlanes::Coat, i)),
            rough = Limited(Read(s, SurfacePlanes::CoatRoughness, i));
    const V level = Number(0.04f);
    const GgxLobe lobe(p.nv, rough, lobes);
    const V albedo = hn::Mul(coat, lobe.Albedo(level));
    const Three around =
        Reflected(*turn.tables,
                  Turned(Dominant(p.n, p.mirrored, hn::Mul(rough, rough)), turn.cosine, turn.sine), rough);
    const V facing = lobe.Facing(level, Fifth(hn::Sub(Number(1), p.vh)));
    const V key = hn::Mul(hn::Mul(p.nl, p.keyLight), hn::Mul(coat, hn::Mul(facing, lobe.Peak(p.nh, p.nl))));
    const Three own = AddScaled(Scale(around, hn::Mul(albedo, SpecularHidden(p.nv, p.hidden, rough))),
                                All(turn.keyIrradiance), key);
    return Add(Scale(below, hn::Sub(Number(1), albedo)), own);
}

void ShadePoints(const SurfacePlanes& s, const ShadingPlanes& points, const TurnedLight& turn,
                 std::size_t first, std::size_t count, float* red, float* green, float* blue) {
    const D d;
    const SpecularTables& lobes = specularTables();
    const bool hasSheen =
        s.has(SurfacePlanes::SheenRed) || s.has(SurfacePlanes::SheenGreen) || s.has(SurfacePlanes::SheenBlue);
    const bool hasCoat = s.has(SurfacePlanes::Coat);
    const bool isBumped = s.plane(SurfacePlanes::NormalX) != nullptr ||
                          s.everywhere(SurfacePlanes::NormalX) != 0 ||
                          s.everywhere(SurfacePlanes::NormalY) != 0;
    const LobeTable* sheen = hasSheen ? &sheenTable() : nullptr;
    const auto read = [&](ShadingPlanes::Number number, std::size_t i) {
        return hn::LoadU(d, points.planes[number].data() + i);
    };
    for (std::size_t k = 0; k < count; k += hn::Lanes(d)) {
        const std::size_t i = first + k;
        const Three normal{read(ShadingPlanes::NormalX, i), read(ShadingPlanes::NormalY, i),
                           read(ShadingPlanes::NormalZ, i)};
        const Three view{read(ShadingPlanes::ViewX, i), read(ShadingPlanes::ViewY, i),
                         read(ShadingPlanes::ViewZ, i)};
        Three n = normal;
        if (isBumped) {
            const Three tangent{read(ShadingPlanes::TangentX, i), read(ShadingPlanes::TangentY, i),
                                read(ShadingPlanes::TangentZ, i)};
            const Three across = Scale(Cross(normal, tangent), read(ShadingPlanes::Side, i));
            const Three map = Read3(s, SurfacePlanes::NormalX, i);
            n = Unit(AddScaled(AddScaled(Scale(tangent, map.x), across, map.y), normal, map.z));
        }
        const V keyLight = read(ShadingPlanes::KeyLight, i);
        const V hidden =
            hn::Min(Limited(Read(s, SurfacePlanes::Occlusion, i)), read(ShadingPlanes::Openness, i));
        const Place place = PlaceOf(n, view, turn, keyLight, hidden);
        Three light = Base(s, i, place, turn, lobes);
        if (hasSheen) light = Sheen(s, i, place, turn, *sheen, light);
        if (hasCoat) {
            const Place smooth = isBumped ? PlaceOf(normal, view, turn, keyLight, hidden) : place;
            light = Coat(s, i, smooth, turn, lobes, light);
        }
        const Three emitted = Read3(s, SurfacePlanes::EmissionRed, i);
        hn::StoreU(hn::Add(Positive(light.x), Positive(emitted.x)), d, red + k);
        hn::StoreU(hn::Add(Positive(light.y), Positive(emitted.y)), d, green + k);
        hn::StoreU(hn::Add(Positive(light.z), Positive(emitted.z)), d, blue + k);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
#include <cmath>

namespace kettle {
namespace {
HWY_EXPORT(ShadePoints);
}

void shadePoints(const SurfacePlanes& surface, const ShadingPlanes& points, const Light& light,
                 std::size_t first, std::size_t count, float* red, float* green, float* blue) {
    const Environment& e = *light.environment;
    const float c = std::cos(light.turn), s = std::sin(light.turn);
    const Vec3 key = e.keyDirection();
    const TurnedLight turned{&e.tables(),
                             c,
                             s,
                             {key.x * c + key.z * s, key.y, key.z * c - key.x * s},
                             e.keyIrradiance() * light.keyStrength};
    HWY_DYNAMIC_DISPATCH(ShadePoints)(surface, points, turned, first, count, red, green, blue);
}

}  // namespace kettle
#endif
