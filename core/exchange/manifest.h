// The manifest of an export: every file with what is in it, for whoever takes the files over.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/exchange/export.h"

namespace kettle {

/// What an export calls it, beside its files.
inline constexpr const char* kManifest = "manifest.json";

struct ManifestEntry {
    ExportItem item;       ///< its file as it lies on the disk
    std::string identity;  ///< identity.h
};

/// JSON: for each file its look, surface, tile, object, size in pixels and bytes, what is in each component,
/// the encoding of its colours, its identity, and a hash of its bytes (16 hexadecimal digits of FNV-1a, 64
/// bits, finalised as splitmix64). Reads the files. docs/handover.md tells the keys. Errors: Missing,
/// Unreadable, Write.
Result<void> writeManifest(const std::vector<ManifestEntry>& entries, const Project& project,
                           FileFormat format, const std::filesystem::path& file,
                           const ProtectedFiles& sources = {});

}  // namespace kettle
