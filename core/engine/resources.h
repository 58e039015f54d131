// Where a project's maps come from: its folder, the shared store, the colour configuration.
#pragma once

#include <array>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/engine/compile.h"
#include "core/engine/model_facts.h"
#include "core/image/image_store.h"
#include "core/program/program.h"
#include "core/steps/catalogue.h"

namespace kettle {

class StampsWhere;

/// The maps of a program's sources, in its order. A null map is a hole: `neutral` stands in for it.
struct ResolvedMaps {
    struct Hole {
        std::array<float, 4> neutral{0.5f, 0.5f, 0.5f, 1.0f};
    };
    std::vector<std::shared_ptr<const MapImage>> maps;
    std::vector<Hole> holes;
    std::shared_ptr<const ModelFacts> model;                ///< null if nothing asks for it, or there is none
    std::vector<std::shared_ptr<const ModelField>> fields;  ///< of each source that is a fact of the model
    /// What maps that lie on the model from its sides are looked up by; null if none does.
    std::shared_ptr<const ModelField> position, normal, size;
    std::vector<std::shared_ptr<const StampsWhere>> wheres;  ///< of each source whose stamps do not all lie
    std::vector<float> texels;          ///< of each source the least stride of its offset; 0: it has none
    std::vector<std::string> problems;  ///< one sentence for each map that could not be read
};

/// What is wrong with a map's file. A notice does not stop anything: the map is used all the same.
struct FileProblem {
    std::string sentence;
    bool isNotice = false;
    std::string set{}, role{};  ///< whose; empty for what concerns the whole project
};

class Resources {
public:
    /// folder: what the sets' folders are relative to. The store may be shared between projects.
    Resources(std::filesystem::path folder, std::shared_ptr<ImageStore> store, ColourManagement colours,
              Catalogue steps = shippedSteps())
        : m_folder(std::move(folder)),
          m_store(std::move(store)),
          m_colours(std::move(colours)),
          m_steps(std::move(steps)) {}
    /// With a store of its own and the shipped colour configuration ($OCIO is honoured where it can be read).
    explicit Resources(std::filesystem::path folder);
    /// The same with the colour configuration that the project names.
    Resources(std::filesystem::path folder, const Project& project);

    /// Where a map's file is, with "<UDIM>" left in; it need not exist.
    std::filesystem::path fileOf(const TextureSet& set, const Map& map) const;
    /// The encoding in force, with "auto" resolved. Errors: Missing, Unreadable.
    Result<std::string> encodingOf(const TextureSet& set, const Map& map) const;
    /// Size, depth and tag of the map's file, or of its first tile. Errors: Missing, Unreadable.
    Result<ImageInfo> infoOf(const TextureSet& set, const Map& map) const;
    /// The same as it was last asked for, without a disk; nothing if nobody has asked yet. Each map that is
    /// resolved is asked for.
    std::optional<ImageInfo> knownInfoOf(const TextureSet& set, const Map& map) const;
    Result<std::shared_ptr<const MapImage>> map(const TextureSet& set, const Map& map) const {
        return this->map(set, map, true);
    }
    /// Maps, and for a program that reads it the model, loaded if needed.
    ResolvedMaps resolve(const Project& project, const Program& program) const;
    /// The project's model as points ask it; null without one, or where nobody finds models.
    std::shared_ptr<const ModelFacts> facts(const Project& project) const {
        return m_models != nullptr ? m_models->facts(project.view.model, project.view.unit) : nullptr;
    }
    /// The same resources, of whose maps what has been read so far is taken: of maps in tiles those that are
    /// there, of large ones the base colour (or the first that is asked for); the rest comes later
    /// (ImageStore).
    Resources hurried() const {
        Resources copy = *this;
        copy.m_isHurried = true;
        return copy;
    }
    /// Who finds models; without anyone their facts are neutral.
    void setModels(std::shared_ptr<ModelFinder> models) { m_models = std::move(models); }
    /// Reads every map: what is missing or broken, and as a notice what has another size than the set's first
    /// map.
    std::vector<FileProblem> problemsOf(const Project& project) const;

    /// What colours are converted by, and which steps there are.
    const ColourManagement& colours() const { return m_colours; }
    const Catalogue& steps() const { return m_steps; }
    /// What compiling goes by. Borrows from here.
    Rules rules() const { return {m_colours, m_steps}; }
    ImageStore& store() const { return *m_store; }
    const std::filesystem::path& folder() const { return m_folder; }

private:
    Result<std::shared_ptr<const MapImage>> map(const TextureSet& set, const Map& map, bool waits) const;

    std::filesystem::path m_folder;
    std::shared_ptr<ImageStore> m_store;
    ColourManagement m_colours;
    Catalogue m_steps = shippedSteps();
    std::shared_ptr<ModelFinder> m_models;
    bool m_isHurried = false;
    std::vector<std::string> m_problems;  ///< about the colour configuration
};

}  // namespace kettle
