// Light: an environment picture made ready for fast shading. The brightest part becomes one key light with a
// shadow of its own; the rest is prefiltered for every roughness, and as spherical harmonics for the diffuse.
#pragma once

#include <array>
#include <filesystem>
#include <memory>
#include <vector>

#include "core/base/result.h"
#include "core/base/vec.h"
#include "core/image/image.h"

namespace kettle {

class Environment {
public:
    /// From a picture in latitude and longitude, linear (top row: up). What is infinite becomes 65504
    /// and what is no number dark. Errors: those of readImage; Invalid for a picture that is not twice as
    /// wide as high.
    static Result<std::shared_ptr<const Environment>> load(const std::filesystem::path& file);
    /// The same radiance from everywhere and no key light; for tests.
    static std::shared_ptr<const Environment> uniform(Vec3 radiance);

    /// Radiance from `direction` as a lobe of `roughness` 0..1 sees it (split sum, B. Karis 2013).
    Vec3 reflected(Vec3 direction, float roughness) const;
    /// Irradiance on a surface facing `normal`, divided by pi. Source: Ramamoorthi and Hanrahan 2001.
    Vec3 diffuse(Vec3 normal) const;

    Vec3 keyDirection() const { return m_keyDirection; }    ///< towards it, unit
    Vec3 keyIrradiance() const { return m_keyIrradiance; }  ///< on a surface facing it

private:
    Environment() = default;
    static Result<std::shared_ptr<const Environment>> read(const std::filesystem::path& file);
    void prepare(const std::vector<Vec3>& pixels, int width, int height);
    static constexpr int kLevels = 8;
    struct Level {
        int size = 0;
        std::vector<Vec3> texels;  ///< an octahedral picture of all directions
    };
    Vec3 lookUp(const Level& level, Vec3 direction) const;
    std::array<Level, kLevels> m_levels;
    std::array<Vec3, 9> m_harmonics;
    Vec3 m_keyDirection{0.3f, 0.8f, 0.5f}, m_keyIrradiance;
};

}  // namespace kettle
