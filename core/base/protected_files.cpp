#include "core/base/protected_files.h"

#include <fmt/format.h>

namespace kettle {
namespace fs = std::filesystem;

void ProtectedFiles::add(const fs::path& file) {
    const auto identity = identityOf(file);
    if (!identity) return;
    m_files.insert(*identity);
    std::error_code code;
    m_paths.insert(fs::weakly_canonical(file, code));
}

Result<void> ProtectedFiles::mayReplace(const fs::path& target) const {
    const auto identity = identityOf(target);
    std::error_code code;
    if ((!identity || !m_files.contains(*identity)) && !m_paths.contains(fs::weakly_canonical(target, code)))
        return {};
    return fail(ErrorKind::Refused,
                fmt::format("{} is one of the project's source maps, which are never written to. "
                            "Choose another folder or name.",
                            target.string()));
}

Result<void> ProtectedFiles::mayWrite(const fs::path& target) const {
    if (auto free = mayReplace(target); !free) return free;
    std::error_code code;
    if (fs::is_symlink(target, code)) {
        const fs::path real = fs::weakly_canonical(target, code);
        const fs::path folder = fs::weakly_canonical(fs::absolute(target, code).parent_path(), code);
        if (real.parent_path() != folder)
            return fail(
                ErrorKind::Refused,
                fmt::format(
                    "{} is a link to {}, outside of its folder. Remove the link, or choose another name.",
                    target.string(), real.string()));
    }
    return checkWritable(target);
}

Result<void> ProtectedFiles::write(const fs::path& target, std::string_view bytes) const {
    if (auto free = mayWrite(target); !free) return free;
    return writeFileAtomically(target, bytes);
}

}  // namespace kettle
