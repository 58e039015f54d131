#include "core/image/library/library.h"

#include "core/image/picture_library.h"

namespace kettle {
namespace {

class ByImageLibrary final : public PictureLibrary {
public:
    Result<ImageInfo> inspect(const std::filesystem::path& file, const std::string& channels) const override {
        return library::inspect(file, channels);
    }
    Result<PixelBuffer> read(const std::filesystem::path& file, const std::string& channels) const override {
        return library::read(file, channels);
    }
    Result<std::shared_ptr<const FileColours>> coloursOf(const std::filesystem::path& file) const override {
        return library::coloursOf(file);
    }
    Result<std::string> encode(const PixelBuffer& pixels, FileFormat format, const WriteChoices& choices,
                               const std::string& tag, const std::string& name) const override {
        return library::encode(pixels, format, choices, tag, name);
    }
};

}  // namespace
}  // namespace kettle

extern "C" __attribute__((visibility("default"))) const kettle::PictureLibrary* kettlePictureLibrary() {
    static const kettle::ByImageLibrary library;
    return &library;
}
