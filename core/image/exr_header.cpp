#include "core/image/exr_header.h"

#include <cstdint>
#include <fstream>
#include <string>

namespace kettle {
namespace {

constexpr std::uint32_t kMagic = 20000630, kManyParts = 0x1000;
constexpr std::size_t kLongestName = 255;

/// Little-endian; 0 where the file has ended.
std::uint32_t number(std::istream& in) {
    unsigned char bytes[4]{};
    in.read(reinterpret_cast<char*>(bytes), 4);
    return static_cast<std::uint32_t>(bytes[0]) | static_cast<std::uint32_t>(bytes[1]) << 8 |
           static_cast<std::uint32_t>(bytes[2]) << 16 | static_cast<std::uint32_t>(bytes[3]) << 24;
}

/// A text that ends in a zero; false if it does not, soon enough.
bool name(std::istream& in, std::string& out) {
    out.clear();
    for (char c = 0; in.get(c) && c != 0; out += c)
        if (out.size() > kLongestName) return false;
    return static_cast<bool>(in);
}

}  // namespace

bool exrHeaderFits(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    if (number(in) != kMagic || !in) return true;
    const bool isMany = (number(in) & kManyParts) != 0;
    const std::uintmax_t size = std::filesystem::file_size(file);
    // One header, or several until an empty one.
    for (bool isFirst = true;; isFirst = false) {
        std::string attribute, type;
        if (!name(in, attribute)) return false;
        if (attribute.empty() && !isFirst) return true;
        while (!attribute.empty()) {
            if (!name(in, type)) return false;
            const std::uint32_t length = number(in);
            if (!in || length > size - static_cast<std::uintmax_t>(in.tellg())) return false;
            in.seekg(length, std::ios::cur);
            if (!name(in, attribute)) return false;
        }
        if (!isMany) return true;
    }
}

}  // namespace kettle
