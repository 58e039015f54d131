#include "core/document/path_text.h"

#include <cstddef>

namespace kettle {
namespace {

unsigned at(std::string_view text, std::size_t i) {
    return i < text.size() ? static_cast<unsigned char>(text[i]) : 0u;
}

/// The length of the well-formed character at i, or 0: RFC 3629, section 4, without surrogates and overlong
/// forms.
std::size_t characterAt(std::string_view text, std::size_t i) {
    const unsigned a = at(text, i), b = at(text, i + 1);
    const auto follows = [&](std::size_t k) { return (at(text, i + k) & 0xC0u) == 0x80u; };
    if (a < 0x80) return 1;
    if (a >= 0xC2 && a <= 0xDF) return follows(1) ? 2 : 0;
    if (a >= 0xE0 && a <= 0xEF) {
        const bool second = a == 0xE0   ? b >= 0xA0 && b <= 0xBF
                            : a == 0xED ? b >= 0x80 && b <= 0x9F
                                        : follows(1);
        return second && follows(2) ? 3 : 0;
    }
    if (a >= 0xF0 && a <= 0xF4) {
        const bool second = a == 0xF0   ? b >= 0x90 && b <= 0xBF
                            : a == 0xF4 ? b >= 0x80 && b <= 0x8F
                                        : follows(1);
        return second && follows(2) && follows(3) ? 4 : 0;
    }
    return 0;
}

/// U+F780 to U+F7FF are 0xEF, 0x9E or 0x9F, and a last byte.
bool isStandIn(std::string_view text, std::size_t i) {
    return at(text, i) == 0xEF && (at(text, i + 1) == 0x9E || at(text, i + 1) == 0x9F);
}

void putStandIn(std::string& out, unsigned byte) {
    const unsigned code = 0xF700u + byte;
    out += static_cast<char>(0xE0u | code >> 12);
    out += static_cast<char>(0x80u | (code >> 6 & 0x3Fu));
    out += static_cast<char>(0x80u | (code & 0x3Fu));
}

}  // namespace

std::string textOfPath(std::string_view path) {
    std::string text;
    for (std::size_t i = 0; i < path.size();) {
        const std::size_t length = isStandIn(path, i) ? 0 : characterAt(path, i);
        if (length == 0)
            putStandIn(text, at(path, i++));
        else
            text += path.substr(i, length), i += length;
    }
    return text;
}

std::string pathOfText(std::string_view text) {
    std::string path;
    for (std::size_t i = 0; i < text.size();) {
        if (isStandIn(text, i) && characterAt(text, i) == 3) {
            path += static_cast<char>((at(text, i + 1) & 0x03u) << 6 | (at(text, i + 2) & 0x3Fu));
            i += 3;
        } else {
            path += text[i++];
        }
    }
    return path;
}

bool isUtf8(std::string_view text) {
    for (std::size_t i = 0, length = 0; i < text.size(); i += length)
        if (length = characterAt(text, i); length == 0) return false;
    return true;
}

}  // namespace kettle
