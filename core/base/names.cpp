#include "core/base/names.h"

#include <cctype>

namespace kettle {

std::string trimmed(const std::string& text) {
    const auto first = text.find_first_not_of(" \t\r\n");
    if (first == std::string::npos) return {};
    return text.substr(first, text.find_last_not_of(" \t\r\n") - first + 1);
}

std::string stemOf(const std::string& name, const std::string& otherwise) {
    std::string stem;
    for (const char c : name.substr(0, 60)) {
        if (std::isalnum(static_cast<unsigned char>(c)) != 0)
            stem += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        else if (!stem.empty() && stem.back() != '-')
            stem += '-';
    }
    while (!stem.empty() && stem.back() == '-') stem.pop_back();
    return stem.empty() ? otherwise : stem;
}

}  // namespace kettle
