#include "core/document/channels.h"

#include <algorithm>
#include <iterator>

namespace kettle {

const std::vector<ChannelSpec>& channels() {
    static const std::vector<ChannelSpec> list{
        {.id = channel::kBaseColour,
         .name = "Base colour",
         .kind = Kind::Colour,
         .neutral = {0.5f, 0.5f, 0.5f},
         .title = "base colour",
         .words = {"basecolor", "basecolour", "basecol", "bascolor", "bc", "albedo", "albd", "alb", "diffuse",
                   "diff", "dif", "diffusecolor", "diffusecolour", "color", "colour", "colr", "col", "clr",
                   "base"},
         .letters = "dcb",
         .shaded = SurfaceNumber::BaseRed,
         .packing = Packing{BakedTexture::Base, 0, 0.735f},
         .materialX = {"base_color", "base_color", 0}},
        {.id = channel::kMetalness,
         .name = "Metalness",
         .kind = Kind::Scalar,
         .neutral = {0, 0, 0},
         .title = "metalness",
         .words = {"metalness", "metallic", "metallicity", "metalic", "metal", "metl", "mtl", "mtlc", "met",
                   "mt"},
         .letters = "m",
         .shaded = SurfaceNumber::Metalness,
         .packing = Packing{BakedTexture::Surface, 2, 0},
         .materialX = {"metalness", "base_metalness", 1}},
        {.id = channel::kRoughness,
         .name = "Roughness",
         .kind = Kind::Scalar,
         .neutral = {0.5f, 0.5f, 0.5f},
         .title = "roughness",
         .words = {"roughness", "rough", "rgh", "rghn", "rogh", "roug", "rou", "rg", "rn"},
         .letters = "r",
         .shaded = SurfaceNumber::Roughness,
         .packing = Packing{BakedTexture::Surface, 1, 0.5f},
         .materialX = {"specular_roughness", "specular_roughness", 2}},
        {.id = channel::kSpecularLevel,
         .name = "Specular level",
         .kind = Kind::Scalar,
         .neutral = {0.5f, 0.5f, 0.5f},
         .title = "specular level",
         .words = {"specularlevel", "speclevel", "speclvl"},
         .shaded = SurfaceNumber::SpecularLevel,
         .packing = Packing{BakedTexture::Specular, 3, 0.5f},
         .materialX = {nullptr, nullptr, 10}},
        {.id = channel::kNormal,
         .name = "Normal",
         .kind = Kind::Normal,
         .neutral = {0, 0, 1},
         .title = "normals",
         .words = {"normal", "normalmap", "nrm", "nor", "norm", "nrml", "nml", "nm", "nmap", "nmp", "nrmap",
                   "tangentnormal"},
         .letters = "n",
         .shaded = SurfaceNumber::NormalX,
         .packing = Packing{BakedTexture::Normal, 0, 0.5f},
         .materialX = {"normal", "geometry_normal", 9}},
        {.id = channel::kHeight,
         .name = "Height",
         .kind = Kind::Scalar,
         .neutral = {0.5f, 0.5f, 0.5f},
         .title = "height",
         .words = {"height", "heightmap", "displacement", "displace", "displ", "disp", "dsp", "hgt", "hght",
                   "hm", "bump", "parallax", "elevation"},
         .letters = "h"},
        {.id = channel::kOcclusion,
         .name = "Occlusion",
         .kind = Kind::Scalar,
         .neutral = {1, 1, 1},
         .title = "occlusion",
         .words = {"occlusion", "ambientocclusion", "ambient", "occl", "occ", "ao", "aomap"},
         .letters = "ao",
         .shaded = SurfaceNumber::Occlusion,
         .packing = Packing{BakedTexture::Surface, 0, 1},
         .materialX = {nullptr, nullptr, 11}},
        {.id = channel::kEmission,
         .name = "Emission",
         .kind = Kind::Colour,
         .neutral = {0, 0, 0},
         .title = "emission",
         .words = {"emission", "emissive", "emit", "emis", "emiss", "ems", "em", "glow", "selfillumination",
                   "illumination"},
         .letters = "e",
         .shaded = SurfaceNumber::EmissionRed,
         .packing = Packing{BakedTexture::Emission, 0, 0},
         .materialX = {"emission_color", "emission_color", 3}},
        {.id = channel::kOpacity,
         .name = "Opacity",
         .kind = Kind::Scalar,
         .neutral = {1, 1, 1},
         .title = "opacity",
         .words = {"opacity", "opac", "opc", "alpha", "transparency", "transparent", "transp", "cutout",
                   "op"},
         .packing = Packing{.texture = BakedTexture::Base, .component = 3, .stored = 1, .isOptional = true},
         .materialX = {"opacity", "geometry_opacity", 4}},
        {.id = channel::kCoat,
         .name = "Coat",
         .kind = Kind::Scalar,
         .neutral = {0, 0, 0},
         .start = {1, 1, 1},
         .title = "coat",
         .words = {"coat", "clearcoat", "clrcoat", "clearct", "lacquer", "varnish"},
         .shaded = SurfaceNumber::Coat,
         .packing = Packing{BakedTexture::Coat, 0, 0},
         .materialX = {"coat", "coat_weight", 5}},
        {.id = channel::kCoatRoughness,
         .name = "Coat roughness",
         .kind = Kind::Scalar,
         .neutral = {0.1f, 0.1f, 0.1f},
         .title = "coat roughness",
         .words = {"coatroughness", "clearcoatroughness", "coatrough", "clearcoatrough", "coatrgh",
                   "ccroughness"},
         .shaded = SurfaceNumber::CoatRoughness,
         .packing =
             Packing{.texture = BakedTexture::Coat, .component = 1, .stored = 0.1f, .isSufficient = false},
         .materialX = {"coat_roughness", "coat_roughness", 6}},
        {.id = channel::kSheenColour,
         .name = "Sheen colour",
         .kind = Kind::Colour,
         .neutral = {0, 0, 0},
         .start = {0.4f, 0.4f, 0.4f},
         .title = "sheen colour",
         .words = {"sheencolour", "sheencolor", "sheen", "sheencol", "fuzz"},
         .shaded = SurfaceNumber::SheenRed,
         .packing = Packing{BakedTexture::Sheen, 0, 0},
         .materialX = {"sheen_color", "fuzz_color", 7}},
        {.id = channel::kSheenRoughness,
         .name = "Sheen roughness",
         .kind = Kind::Scalar,
         .neutral = {0.3f, 0.3f, 0.3f},
         .title = "sheen roughness",
         .words = {"sheenroughness", "sheenrough", "fuzzroughness"},
         .shaded = SurfaceNumber::SheenRoughness,
         .packing =
             Packing{.texture = BakedTexture::Sheen, .component = 3, .stored = 0.3f, .isSufficient = false},
         .materialX = {"sheen_roughness", "fuzz_roughness", 8}},
    };
    return list;
}

const ChannelSpec* findChannel(const std::string& id) {
    for (const ChannelSpec& c : channels())
        if (id == c.id) return &c;
    return nullptr;
}

bool isColourRole(const std::string& role) {
    const ChannelSpec* channel = findChannel(role);
    return channel != nullptr && channel->kind == Kind::Colour;
}

std::vector<PackedPart> partsOf(BakedTexture texture) {
    // What no channel fills is black, but where alpha alone is read, whose colour would be none.
    const float unused = texture == BakedTexture::Specular ? 1.0f : 0.0f;
    std::vector<PackedPart> parts(3, PackedPart{"", "", unused, false});
    for (const ChannelSpec& channel : channels()) {
        if (!channel.packing || channel.packing->texture != texture) continue;
        const Packing& packing = *channel.packing;
        const auto put = [&](int component, const char* of, float stored) {
            const auto at = static_cast<std::size_t>(component);
            if (parts.size() <= at) parts.resize(at + 1, PackedPart{"", "", unused, false});
            parts[at] = {channel.id, of, stored, packing.isOptional};
        };
        if (channel.kind == Kind::Scalar) {
            put(packing.component, "", packing.stored);
            continue;
        }
        const bool isNormal = channel.kind == Kind::Normal;
        constexpr const char* kComponents[] = {"red", "green", "blue"};
        for (int c = 0; c < 3; ++c)
            put(packing.component + c, kComponents[c], isNormal && c == 2 ? 1.0f : packing.stored);
    }
    return parts;
}

}  // namespace kettle
