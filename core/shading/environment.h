// Light: an environment picture made ready for fast shading. The brightest part becomes one key light with a
// shadow of its own; the rest is prefiltered for every roughness, and by the cosine for the diffuse.
#pragma once

#include <array>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <vector>

#include "core/base/result.h"
#include "core/base/vec.h"
#include "core/image/image.h"
#include "core/image/prepared_maps.h"

namespace kettle {

/// Prefiltered light as plain numbers, for the kernel.
struct EnvironmentTables {
    static constexpr int kLevels = 8;
    static constexpr std::size_t kPictures = kLevels + 1;
    /// Octahedral pictures of all directions, a level for each roughness k / (kLevels - 1), and as the last
    /// the irradiance over pi: `size` texels wide and high from texel `start` on, four floats a texel, of
    /// which the fourth is unused.
    std::vector<float> texels;
    std::array<std::int32_t, kPictures> size{}, start{};
};

class Environment {
public:
    /// From a picture in latitude and longitude, linear (top row: up). What is infinite becomes 65504
    /// and what is no number dark. Errors: those of readImage; Invalid for a picture that is not twice as
    /// wide as high. `prepared`: where it may lie ready, and with `keeps` is put for the next time; null:
    /// nowhere.
    static Result<std::shared_ptr<const Environment>> load(const std::filesystem::path& file,
                                                           const PreparedMaps* prepared = nullptr,
                                                           bool keeps = false);
    /// The same radiance from everywhere and no key light; for tests.
    static std::shared_ptr<const Environment> uniform(Vec3 radiance);

    /// Radiance from `direction` as a lobe of `roughness` 0..1 sees it (split sum, B. Karis 2013).
    Vec3 reflected(Vec3 direction, float roughness) const;
    /// Irradiance on a surface facing `normal`, divided by pi. Accuracy: 1 % of the brightest direction's.
    Vec3 diffuse(Vec3 normal) const;

    Vec3 keyDirection() const { return m_keyDirection; }    ///< towards it, unit
    Vec3 keyIrradiance() const { return m_keyIrradiance; }  ///< on a surface facing it
    const EnvironmentTables& tables() const { return m_tables; }

private:
    Environment() = default;
    static Result<std::shared_ptr<const Environment>> read(const std::filesystem::path& file);
    void prepare(const std::vector<Vec3>& pixels, int width, int height);
    static std::shared_ptr<const Environment> findPrepared(const PreparedMaps& prepared,
                                                           const std::filesystem::path& file);
    void keepPrepared(const PreparedMaps& prepared, const std::filesystem::path& file) const;
    void layOut();
    Vec3 lookUp(std::size_t level, Vec3 direction) const;
    EnvironmentTables m_tables;
    Vec3 m_keyDirection{0.3f, 0.8f, 0.5f}, m_keyIrradiance;
};

}  // namespace kettle
