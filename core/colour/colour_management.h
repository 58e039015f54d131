// Colour management: the shipped OpenColorIO configuration, or the artist's own ($OCIO, or a chosen file).
// The only folder that knows the library; everything else asks for spaces by name.
#pragma once

#include <cstddef>
#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace kettle {

/// One conversion of the colour library. Immutable; safe on any number of threads.
class ColourTransform {
public:
    virtual ~ColourTransform() = default;
    /// `count` colours as three planes, read and written; in and out may be the same. Errors: none.
    virtual void applyPlanes(const float* const in[3], float* const out[3], std::size_t count) const = 0;
    /// `count` interleaved RGB triples in place.
    virtual void applyPixels(float* rgb, std::size_t count) const = 0;
};

class ColourManagement {
public:
    /// The shipped configuration, read once. Never fails: it is part of the program and tested.
    static const ColourManagement& shipped();
    /// $OCIO if it is set, else the shipped one. Errors: Missing, Invalid.
    static Result<ColourManagement> fromEnvironment();
    static Result<ColourManagement> fromFile(const std::string& path);
    /// What a project asks for: its own configuration (a path, relative to `folder`), else $OCIO, else the
    /// shipped one. On a failure the shipped one is returned and `problem` says why.
    static ColourManagement chosen(const std::string& configuration, const std::string& folder,
                                   std::string& problem);

    /// What tells two configurations apart: equal for equal contents.
    std::string identity() const;
    std::vector<std::string> spaces() const;
    bool knows(const std::string& space) const;

    /// Converts `count` interleaved RGB triples in place between two spaces. Threads: safe. Errors: Invalid
    /// (an unknown space). "raw" on either side leaves the numbers alone.
    Result<void> convert(float* rgb, std::size_t count, const std::string& from, const std::string& to) const;

    /// A conversion made once and applied to many pixels. Null for two equal spaces, and where either is
    /// "raw" or unknown: then numbers stay as they are.
    std::shared_ptr<const ColourTransform> transform(const std::string& from, const std::string& to) const;
    /// The views of the picture on the screen: "standard", "soft filmic", "ACES", or a configuration's own.
    std::vector<std::string> views() const;
    /// From linear Rec.709 to display numbers by a view. Errors: Invalid (unknown view).
    Result<std::shared_ptr<const ColourTransform>> viewTransform(const std::string& view) const;

private:
    struct Impl;
    explicit ColourManagement(std::shared_ptr<const Impl> impl) : m_impl(std::move(impl)) {}
    std::shared_ptr<const Impl> m_impl;
};

}  // namespace kettle
