// Rays against a mesh. The only part that knows the ray library.
#pragma once

#include <cstddef>
#include <memory>

#include "core/scene/mesh.h"
#include "core/scene/see_through.h"

namespace kettle {

struct Hit {
    bool found = false;
    std::uint32_t triangle = 0;
    float distance = 0;    ///< along the ray's direction, in its units
    float b1 = 0, b2 = 0;  ///< barycentric weights of the second and third corner
};

/// A mesh made ready for rays. Any number of threads may cast at once.
class RayScene {
public:
    /// Still: asked most quickly. Moving: takes other shapes of its triangles in a fraction of the time.
    enum class Use { Still, Moving };
    explicit RayScene(std::shared_ptr<const Mesh> mesh, Use use = Use::Still);
    ~RayScene();
    RayScene(const RayScene&) = delete;
    RayScene& operator=(const RayScene&) = delete;

    /// Takes another shape, of a scene for Use::Moving: the same triangles and as many vertices, elsewhere.
    /// Nobody may cast meanwhile. The farther they move, the slower it is asked.
    void move(std::shared_ptr<const Mesh> mesh);
    /// What it was made of.
    const Mesh& mesh() const { return *m_mesh; }
    /// The nearest triangle that a ray meets, farther away than `nearest` (in lengths of `direction`, in
    /// centimetres if that is a unit vector); a Hit without a triangle if there is none. Threads: safe.
    Hit cast(Vec3 from, Vec3 direction, float nearest) const;
    /// True if anything lies between `nearest` and `farthest`.
    bool isBlocked(Vec3 from, Vec3 direction, float nearest, float farthest) const;

    /// Rays are cast quickest in packs.
    static constexpr std::size_t kPack = 16;
    /// cast() for up to kPack rays from one place, which is quick if they go nearly the same way.
    void castPack(Vec3 from, const Vec3 directions[], std::size_t count, Hit hits[]) const;
    /// Rays from places of their own: component by component, lane by lane.
    struct Pack {
        alignas(64) float fromX[kPack], fromY[kPack], fromZ[kPack], x[kPack], y[kPack], z[kPack];
    };
    /// How far the first `count` rays of a pack go, in lengths of their directions, until they meet
    /// something; infinity if they never do. Quick if they start near each other and go nearly the same way.
    void distancesOfPack(const Pack& rays, std::size_t count, float distances[]) const;
    /// The same from one place, farther away than `nearest` of each.
    void castPackBeyond(Vec3 from, const Vec3 directions[], const float nearest[], std::size_t count,
                        Hit hits[]) const;
    /// isBlocked() for up to kPack rays that end at the same distance: bit i is set if ray i is blocked.
    /// `alike`: they go nearly the same way, which is quicker.
    unsigned blockedOfPack(const Vec3 from[], const Vec3 directions[], std::size_t count, float nearest,
                           float farthest, bool alike) const;

    /// What such rays let by of the light: 1 where nothing is in the way, 0 behind what is opaque, and the
    /// product of what each triangle on the way lets by that is not.
    void throughPack(const Vec3 from[], const Vec3 directions[], std::size_t count, float nearest,
                     float farthest, bool alike, const SeeThrough& seeThrough, float let[]) const;

private:
    struct Impl;
    std::shared_ptr<const Mesh> m_mesh;
    std::unique_ptr<Impl> m_impl;
};

}  // namespace kettle
