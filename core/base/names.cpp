#include "core/base/names.h"

#include <algorithm>
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

std::string shownName(const std::string& idOrFile) {
    std::string words = idOrFile.substr(idOrFile.rfind('/') + 1);
    if (words.size() != idOrFile.size()) words.resize(std::min(words.size(), words.rfind('.')));
    for (char& c : words)
        if (c == '-' || c == '_') c = ' ';
    if (!words.empty() && words[0] >= 'a' && words[0] <= 'z') words[0] = static_cast<char>(words[0] - 32);
    return words;
}

}  // namespace kettle
