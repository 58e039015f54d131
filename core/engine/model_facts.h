// What a point knows of the model that it lies on. The engine asks for it by these interfaces and knows no
// mesh: core/geometry answers. A place on the model is a triangle and two barycentric weights, so that a view
// of the model and a grid over texture space read the same fact at the same place.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/base/plane.h"
#include "core/document/project.h"
#include "core/program/program.h"

namespace kettle {

/// Places of points on the model, one each; all lists have the same length or are empty. `covered`: how much
/// of the model a point covers, in centimetres; empty: by its footprint in texture space.
struct ModelPlaces {
    static constexpr std::uint32_t kNowhere = 0xffffffffu;  ///< a point that lies on no triangle
    std::vector<std::uint32_t> triangles;
    Plane b1, b2;  ///< weights of the second and third corner; a little outside of 0..1 in the rim of a part
    Plane covered;
    bool empty() const { return triangles.empty(); }
};

/// One fact over a whole model, of up to three components. Immutable; any number of threads may read it.
class ModelField {
public:
    ModelField();
    virtual ~ModelField() = default;
    /// `count` places; bit i of `mask`: component i goes to out[i]. Nowhere, the neutral value.
    virtual void read(const std::uint32_t* triangles, const float* b1, const float* b2, std::size_t count,
                      unsigned mask, float* const out[4]) const = 0;
    /// A number that no other field of this run bears.
    std::uint64_t id() const { return m_id; }

private:
    std::uint64_t m_id;
};

/// An object of a model: its parts by their names, and whether another object covers a place of texture space
/// that it covers, so that one flat map cannot show both.
struct ModelThing {
    std::string name;
    std::vector<std::string> parts;
    bool sharesTexture = false;
};

/// A model's facts, as programs ask for them.
class ModelFacts {
public:
    virtual ~ModelFacts() = default;
    /// Where points of texture space lie: on the first triangle that covers them, else on the nearest within
    /// a rim of a 128th of a tile, else nowhere. Threads: safe.
    virtual void find(const float* u, const float* v, std::size_t count, std::uint32_t* triangles, float* b1,
                      float* b2) const = 0;
    /// The weights of other points of texture space on given triangles, also beyond their edges: so a line is
    /// looked at beside a point without leaving its triangle's plane. Threads: safe.
    virtual void move(const std::uint32_t* triangles, const float* u, const float* v, std::size_t count,
                      float* b1, float* b2) const = 0;
    /// The field of an attribute; made when first asked for, which may take seconds, and kept. Never null.
    /// `numbers`: those of objects and parts that were given by hand. Threads: safe.
    virtual std::shared_ptr<const ModelField> field(const MeshAttribute& attribute,
                                                    const Shared<ObjectNumbers>& numbers = {}) const = 0;
    /// The same facts, where points of texture space lie on one object or part alone; null if the model has
    /// none of that name. Threads: safe.
    virtual std::shared_ptr<const ModelFacts> only(const std::string& object) const = 0;
    /// The model's objects, in its order. Threads: safe.
    virtual const std::vector<ModelThing>& things() const = 0;
};

/// Finds a project's model, reading it if needed. Threads: safe.
class ModelFinder {
public:
    virtual ~ModelFinder() = default;
    /// As in ViewSettings. Null if it cannot be read.
    virtual std::shared_ptr<const ModelFacts> facts(const std::string& model, const std::string& unit) = 0;
};

/// True if a program reads numbers of objects or parts, which depend on the numbers that the artist assigned.
bool readsCopies(const Program& program);

/// What stands in for a field where there is no model: its middle.
std::array<float, 4> neutralFact(const MeshAttribute& attribute);

}  // namespace kettle
