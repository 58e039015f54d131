// The library: recipes, ramps, palettes, layers and arrangements of packed files on disk. One folder a kind,
// one JSON file an entry, and beside it a picture of the same name. Several folders may be read: what is
// shipped, one's own, a team's. docs/project-format.md tells the files.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/base/result.h"
#include "core/document/project.h"
#include "core/exchange/packed_map.h"

namespace kettle {

/// Colours under a name, with how often each is meant to come.
struct Palette {
    std::string name, purpose;
    std::vector<Vec3> colours;   ///< linear
    std::vector<float> weights;  ///< of each colour, or none: all alike
    bool operator==(const Palette&) const = default;
};
/// A ramp of its stops in their order: each colour held, as wide as it is meant to come, or all passing into
/// each other. At least one colour.
Ramp rampOf(const Palette& palette, bool held);
/// What a palette becomes on a line: a Ramp remap of its colours; on a line of one plain colour, which has no
/// tones to remap, a Vary that gives each object one of them, exactly. At least one colour.
Step stepOf(const Palette& palette, const Line& line);

/// A layer, or several, as edits::copyLayers gives it. A texture set of it is a slot: it names the roles that
/// it is read by, and no file.
struct KeptLayer {
    std::string name, purpose, note;
    Project layers;
    /// Sets of it that are to be filled with a folder's.
    std::vector<std::string> slots() const;
};

struct NamedRampEntry {
    std::string name, purpose;
    Ramp ramp;
};

enum class EntryKind { Recipe, Layer, Ramp, Palette, Arrangement };
/// All of them.
const std::vector<EntryKind>& entryKinds();
enum class EntryOrigin { Shipped, Own, Team };

struct LibraryEntry {
    EntryKind kind = EntryKind::Recipe;
    EntryOrigin origin = EntryOrigin::Shipped;
    std::string name, purpose;
    std::filesystem::path file;
    std::filesystem::path picture;  ///< empty: there is none
    std::string problem;            ///< why it cannot be read; then nothing of `content` is
    std::variant<std::monostate, Recipe, KeptLayer, NamedRampEntry, Palette, Arrangement> content;
};

/// A folder of a library.
struct LibraryFolder {
    std::filesystem::path folder;
    EntryOrigin origin = EntryOrigin::Own;
};

/// No entry is larger: a recipe of a thousand steps is far below it.
inline constexpr std::uintmax_t kLargestEntry = 4u << 20;

/// Everything in some folders, by kind and then by name; of equal names the later folder's last. Broken files
/// are entries with a problem. A folder that is not there has none. Threads: uses all.
std::vector<LibraryEntry> readLibrary(const std::vector<LibraryFolder>& folders);
/// Those of one kind.
std::vector<LibraryEntry> readLibrary(const std::vector<LibraryFolder>& folders, EntryKind only);
/// One file by its ending. Never fails: the entry says what is wrong.
LibraryEntry readEntry(const std::filesystem::path& file, EntryOrigin origin);
/// A number that changes when files come, go or are written. Takes time in proportion to the files.
std::uint64_t stateOf(const std::vector<LibraryFolder>& folders);

/// Writes an entry into a folder, in place of what bore its name there (a recipe then counts its edition up);
/// the folders are made if needed. Gives the file. Atomic. Errors: Invalid (no name), Write.
Result<std::filesystem::path> keepEntry(const std::filesystem::path& folder, LibraryEntry entry);
/// A copy of a file that somebody gave. Errors: Invalid (what its entry says), Write.
Result<std::filesystem::path> importEntry(const std::filesystem::path& folder,
                                          const std::filesystem::path& file);
/// Takes an entry's file and picture off. Errors: Write.
Result<void> forgetEntry(const LibraryEntry& entry);

/// Where an entry's picture lies, beside its file.
std::filesystem::path pictureOf(const std::filesystem::path& file);

/// "recipe", "layer", "ramp", "palette", "arrangement": a file is called "name.recipe.json" and lies in
/// "recipes".
const char* nameOf(EntryKind kind);
std::filesystem::path folderOf(EntryKind kind);

/// The texts of files.
std::string paletteToText(const Palette& palette);
Result<Palette> paletteFromText(const std::string& text, const std::string& name);
std::string layerToText(const KeptLayer& layer);
Result<KeptLayer> layerFromText(const std::string& text, const std::string& name);
std::string arrangementToText(const Arrangement& arrangement);
Result<Arrangement> arrangementFromText(const std::string& text, const std::string& name);

/// The layer without the files of its sets: each becomes a slot of the roles that are read.
KeptLayer withoutFiles(KeptLayer layer);

}  // namespace kettle
