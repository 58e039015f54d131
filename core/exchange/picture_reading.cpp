#include "core/exchange/picture_reading.h"

#include <algorithm>
#include <array>

#include "core/image/image.h"
#include "core/steps/map.h"

namespace kettle {
namespace {

constexpr std::array kColourComponents{Component::Red, Component::Green, Component::Blue};

PictureReading read(Component component) {
    if (component == Component::DisplayedGrey) return {component, "its displayed grey"};
    return {component, std::string("its ") + idOf(component)};
}

/// The one component of a colour picture that is not the same everywhere; 3: there is no such one.
std::size_t onlyOneThatDiffers(const MapContents& contents) {
    constexpr double kSame = 0.75 / 255;
    std::size_t only = 3;
    for (std::size_t c = 0; c < 3; ++c) {
        if (contents.deviation[c] < kSame) continue;
        if (only != 3) return 3;
        only = c;
    }
    return only;
}

}  // namespace

void setReading(Step& source, const PictureReading& reading) {
    if (reading.component != Component::Red) put(source.controls, kMapComponent(reading.component));
}

PictureReading readingFor(const MapContents& contents, PicturePurpose purpose) {
    if (purpose == PicturePurpose::Mask && contents.alphaSays) return read(Component::Alpha);
    if (contents.isGrey) return {Component::Red, "its grey"};
    if (contents.isPacked) return read(Component::Red);
    const std::size_t only = onlyOneThatDiffers(contents);
    return read(only < 3 ? kColourComponents[only] : Component::DisplayedGrey);
}

Result<PictureReading> readingFor(const std::filesystem::path& file, PicturePurpose purpose) {
    const auto pixels = readImage(file);
    if (!pixels) return fail(pixels.error());
    return readingFor(contentsOf(*pixels), purpose);
}

Result<PictureReading> readingFor(const Project& project, const Resources& resources, const std::string& set,
                                  const std::string& role, PicturePurpose purpose) {
    for (const auto& line : project.lines) {
        if (line->kind != Kind::Scalar || line->steps.empty()) continue;
        const Step& source = *line->steps.front();
        const auto said = source.controls.find(kMapComponent.id);
        if (source.set != set || source.role != role || said == source.controls.end()) continue;
        if (const auto* component = std::get_if<std::string>(&said->second))
            return read(componentNamed(*component));
    }
    const TextureSet* of = project.findSet(set);
    const Map* map = of != nullptr ? findMap(*of, role) : nullptr;
    if (map == nullptr) return fail(ErrorKind::Refused, "The set has no map " + role + ". Choose another.");
    const auto image = resources.map(*of, *map);
    if (!image) return fail(image.error());
    return readingFor(contentsOf((*image)->pixels()), purpose);
}

}  // namespace kettle
