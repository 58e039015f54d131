#include "core/document/model_format.h"

#include <cctype>
#include <string>
#include <utility>

namespace kettle {

std::optional<ModelFormat> modelFormatOf(const std::filesystem::path& file) {
    std::string ending = file.extension().string();
    for (char& c : ending) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    constexpr std::pair<const char*, ModelFormat> kEndings[] = {{".obj", ModelFormat::Obj},
                                                                {".gltf", ModelFormat::Gltf},
                                                                {".glb", ModelFormat::Glb},
                                                                {".ply", ModelFormat::Ply}};
    for (const auto& [known, format] : kEndings)
        if (ending == known) return format;
    return std::nullopt;
}

}  // namespace kettle
