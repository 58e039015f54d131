// Any bytes as a picture file, read by every reader that its beginning may call up.
#include <cstdint>
#include <string_view>

#include "core/image/map_image.h"
#include "tests/fuzz/scratch.h"

using namespace kettle;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 4 || size > (1u << 20)) return 0;
    const std::string_view head(reinterpret_cast<const char*>(data), size);
    const char* extension = head.starts_with("\x89PNG")                        ? "png"
                            : head.starts_with("\x76\x2f\x31\x01")             ? "exr"
                            : head.starts_with("\xff\xd8")                     ? "jpg"
                            : head.starts_with("II") || head.starts_with("MM") ? "tif"
                                                                               : "png";
    const auto file = fuzz::scratchFile(head, extension);
    if (file.empty()) return 0;
    const auto info = inspectImage(file);
    if (info && static_cast<std::int64_t>(info->width) * info->height > (1 << 22)) return 0;  // only slow
    const auto map =
        MapImage::load(file, info ? automaticEncoding(true, *info) : "raw", ColourManagement::shipped());
    if (!map) return 0;
    const float u = 0.4f, v = 0.7f, footprint = 0.3f;
    float numbers[4];
    float* out[4]{&numbers[0], &numbers[1], &numbers[2], &numbers[3]};
    (*map)->sample({&u, &v, &footprint, 1}, 15, out);
    return 0;
}
