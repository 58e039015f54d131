// Colour management: the shipped OpenColorIO configuration, or the artist's own ($OCIO, or a chosen file).
// The only folder that knows the library; everything else asks for spaces by name.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace kettle {

class ColourManagement {
public:
    /// The shipped configuration. Never fails: it is part of the program and tested.
    static ColourManagement shipped();
    /// $OCIO if it is set, else the shipped one. Errors: Missing, Invalid.
    static Result<ColourManagement> fromEnvironment();
    static Result<ColourManagement> fromFile(const std::string& path);

    std::vector<std::string> spaces() const;
    bool knows(const std::string& space) const;

    /// Converts `count` interleaved RGB triples in place between two spaces. Threads: safe. Errors: Invalid
    /// (an unknown space). "raw" on either side leaves the numbers alone.
    Result<void> convert(float* rgb, std::size_t count, const std::string& from, const std::string& to) const;

private:
    struct Impl;
    explicit ColourManagement(std::shared_ptr<const Impl> impl) : m_impl(std::move(impl)) {}
    std::shared_ptr<const Impl> m_impl;
};

}  // namespace kettle
