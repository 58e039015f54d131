// Paths as text in a project file. A file's name is bytes, JSON holds Unicode: a byte that is no part of
// UTF-8 is kept as a private character (U+F700 plus the byte), so that every name comes back as it was.
#pragma once

#include <string>
#include <string_view>

namespace kettle {

/// UTF-8 in every case. Characters of the private range that stand in a name already are taken apart too, so
/// that pathOfText(textOfPath(x)) == x for all x.
std::string textOfPath(std::string_view path);
std::string pathOfText(std::string_view text);

/// True if the text is well-formed UTF-8 (RFC 3629).
bool isUtf8(std::string_view text);

}  // namespace kettle
