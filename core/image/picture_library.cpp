#include "core/image/picture_library.h"

#include <dlfcn.h>
#include <fmt/format.h>

namespace kettle {
namespace {

namespace fs = std::filesystem;

/// Of an installed program in ../lib/pale-kettle beside it, else where it was built.
fs::path moduleFile() {
    std::error_code code;
    const fs::path program = fs::read_symlink("/proc/self/exe", code);
    const fs::path installed =
        program.parent_path().parent_path() / "lib" / "pale-kettle" / fs::path(KETTLE_PICTURES).filename();
    return !code && fs::exists(installed, code) ? installed : fs::path(KETTLE_PICTURES);
}

Result<const PictureLibrary*> load() {
    const fs::path file = moduleFile();
    void* const module = dlopen(file.c_str(), RTLD_NOW | RTLD_LOCAL);
    void* const entry = module != nullptr ? dlsym(module, kPictureLibraryEntry) : nullptr;
    if (entry == nullptr) {
        const char* const why = dlerror();
        return fail(
            ErrorKind::Library,
            fmt::format("Cannot load {}, which reads and writes pictures other than plain PNG. Install "
                        "the program again.",
                        file.string()),
            why != nullptr ? why : "");
    }
    return reinterpret_cast<PictureLibraryEntry>(entry)();
}

}  // namespace

std::mutex& pictureLibraryMutex() {
    static std::mutex mutex;
    return mutex;
}

Result<const PictureLibrary*> pictureLibrary() {
    static const PictureLibrary* known = nullptr;
    const std::lock_guard lock(pictureLibraryMutex());
    if (known != nullptr) return known;
    auto loaded = load();
    if (loaded) known = *loaded;
    return loaded;
}

}  // namespace kettle
