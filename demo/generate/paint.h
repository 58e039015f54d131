// Painting a texture set: a function gives what the surface is at a place, and the maps are written from it.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/base/vec.h"
#include "core/document/project.h"
#include "core/image/image.h"

namespace kettle::demo {

/// The surface at a place; colour display-encoded, everything 0..1.
struct Texel {
    Vec3 colour{0.5f, 0.5f, 0.5f};
    float roughness = 0.5f, metalness = 0, height = 0.5f, wear = 0, grain = 0.5f;
};

/// A painted square of texels, from which maps are taken.
class Canvas {
public:
    Canvas(int size, const std::function<Texel(float u, float v)>& paint);
    int size() const { return m_size; }
    const Texel& at(int x, int y) const { return m_texels[static_cast<std::size_t>(y * m_size + x)]; }

    PixelBuffer colour() const;
    PixelBuffer grey(const std::function<float(const Texel&)>& value, Depth depth = Depth::U8) const;
    /// Tangent-space vectors from the heights; `strength` in texels of height for the full range.
    PixelBuffer normal(float strength) const;
    /// Darker where the neighbourhood is higher; a few rings of samples.
    PixelBuffer occlusion(float strength) const;
    /// White with `value` in alpha.
    PixelBuffer maskInAlpha(const std::function<float(const Texel&)>& value) const;
    /// Three greys in one picture.
    PixelBuffer packed(float occlusionStrength) const;

private:
    float heightAt(int x, int y) const;
    float openAt(int x, int y, float strength) const;
    int m_size;
    std::vector<Texel> m_texels;
};

Vec3 hex(unsigned rgb);

Result<void> writeKettle(const std::filesystem::path& folder);
Result<void> writeTile(const std::filesystem::path& folder);
Result<void> writeRattan(const std::filesystem::path& folder);
Result<void> writeSailcloth(const std::filesystem::path& folder);
Result<void> writeHull(const std::filesystem::path& folder);
Result<void> writeStove(const std::filesystem::path& folder);
Result<void> writeModels(const std::filesystem::path& folder);
Result<void> writeEnvironments(const std::filesystem::path& folder);
Result<void> writeTestCard(const std::filesystem::path& folder);
Result<void> writeFerryMark(const std::filesystem::path& folder);
/// The kettle's project with the look Forty years afloat; `folder` holds the demo data.
Result<Project> withLayers(const Project& kettle, const std::filesystem::path& folder);
Result<void> writeProject(const std::filesystem::path& folder);
Result<void> writeCupShelf(const std::filesystem::path& folder);
Result<void> writeTileWall(const std::filesystem::path& folder);
Result<void> writeLibrary(const std::filesystem::path& folder);
Result<void> writeWall(const std::filesystem::path& folder);
Result<void> writeShelf(const std::filesystem::path& folder);
Result<void> writeFloor(const std::filesystem::path& folder);

}  // namespace kettle::demo
