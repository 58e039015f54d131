// What would be brought in: pictures in sets, and a model with its materials, each with what it becomes and
// why. A plan is a plain value; all of it may be changed before it is made into a project (bring_project.h).
#pragma once

#include <array>
#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/exchange/map_contents.h"
#include "core/exchange/map_names.h"
#include "core/image/image.h"
#include "core/image/image_store.h"
#include "core/scene/mesh.h"
#include "core/threads/parallel.h"

namespace kettle {

/// One picture, or the tiles of one.
struct PlannedMap {
    static constexpr int kPictureSide = 40;

    MapName name;                  ///< what it becomes; role, components and green may be changed
    std::filesystem::path folder;  ///< where it lies
    std::vector<int> tiles;        ///< of a tiled one, in order
    ImageInfo info;                ///< of the first tile
    MapContents contents;
    bool isTaken = true;
    bool isChosen = false;  ///< what it becomes was chosen by hand
    std::string encoding = "auto";
    std::string
        channels{};       ///< of a file that holds several pictures (ImageInfo::others); empty: its colours
    std::string warning;  ///< what is probably wrong, as a sentence; empty if nothing is
    /// kPictureSide squared, 0xAARRGGBB in display numbers, rows from the top.
    std::vector<std::uint32_t> picture;
};

struct PlannedSet {
    std::string name;
    std::filesystem::path folder;
    std::vector<PlannedMap> maps;
    bool drives = true;   ///< its maps drive the channels of a surface; else they wait in the project
    std::string surface;  ///< the name of that surface; empty where there is but one
};

struct PlannedModel {
    std::filesystem::path file;
    std::string unit = "auto";
    std::vector<std::string> parts, partMaterials;
    std::vector<std::string>
        materials;  ///< each once, in the order of the file; without those without a name
    std::size_t objects = 0, triangles = 0;
    Vec3 size;  ///< in centimetres, by `unit`
    std::vector<int> tiles;
    std::vector<std::string> withoutUv;  ///< parts without texture coordinates
};

struct BringPlan {
    std::optional<PlannedModel> model;
    std::vector<PlannedSet> sets;
    /// One surface for each of these names; fewer than two: one for the whole model.
    std::vector<std::string> surfaces;
    /// One surface covers everything; others that sets are for keep their parts.
    bool isOneForAll = false;
    std::vector<std::string> notes;    ///< what was decided, one sentence each
    std::vector<std::string> leftOut;  ///< what cannot be read, one sentence each
    int seen = 0;                      ///< pictures that were looked at
};

/// How many pictures of how many are read; told from the threads that read, one after the other.
using ReadingProgress = std::function<void(int done, int all)>;

/// Where pictures are read into, so that what is brought in is there already when it is first shown. Borrows
/// both.
struct ReadInto {
    ImageStore& store;
    const ColourManagement& colours;
};

/// Folders, pictures and a model, in any mixture; of several models the first counts. `subFolders`: those of
/// the folders too, each as sets of its own. Reads every picture, on all cores. Errors: Missing (a folder or
/// a file that is not there), Invalid (nothing that can be brought in), those of loadMesh, NoMemory,
/// Cancelled. Pictures that cannot be read are named in `leftOut`.
Result<BringPlan> planBringIn(const std::vector<std::filesystem::path>& from, bool subFolders = false,
                              const ReadingProgress& progress = {}, const CancelToken& cancel = {},
                              const ReadInto* into = nullptr);

/// What a model's file would bring. Errors: those of loadMesh.
Result<PlannedModel> planModel(const std::filesystem::path& file, const std::string& unit = "auto",
                               const CancelToken& cancel = {});

/// Gives each set to the surface whose name it bears, by words that they have in common; the rest in order.
void matchSurfaces(BringPlan& plan);

/// True for a file that can be brought in as a model, or as a map, by its ending.
bool isModelFile(const std::filesystem::path& file);
bool isPictureFile(const std::filesystem::path& file);

/// "enamel_kettle" as people read it; what is not UTF-8 becomes "-".
std::string titleOfName(const std::string& name);

}  // namespace kettle
