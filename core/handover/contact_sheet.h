// The contact sheet: looks side by side from one or several views, or one look in several lights, each with
// its name and how far it is from the first. The pictures are those of the window, made by the same code.
#pragma once

#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/scene/scene_store.h"
#include "core/shading/preview.h"

namespace kettle {

struct SheetView {
    std::string name;
    Camera camera;
};

/// "front", "right", "back", "left", "above": the camera turned to that side, as far away and as high as it
/// is. Nothing for any other name.
std::optional<SheetView> viewFrom(const Camera& camera, const std::string& side);
/// `count` cameras once around the model, beginning with this one; 1 to 3600.
std::vector<SheetView> turnedViews(const Camera& camera, int count);

struct SheetPlan {
    std::vector<std::string> looks{""};     ///< "" is the base, as received
    std::vector<SheetView> views;           ///< at least one
    std::vector<std::string> environments;  ///< shipped ones by name, or files; none: the project's
    int width = 640, height = 400;          ///< of each picture, in pixels
    int columns = 0;                        ///< of a sheet with one view and one light; 0: as it fits best
    int margin = 32;                        ///< around the sheet, in pixels
    std::string surround{};                 ///< "pale", "middle", "dark"; empty: the project's
    bool names = true, differences = true;
    std::string title{};  ///< over the pictures: project and date; empty: none
};

struct SheetCell {
    std::string name;
    Picture picture;
    std::optional<double> difference;  ///< mean CIEDE2000 from the first look's, over the model
};

struct ContactSheet {
    int columns = 1, rows = 1;
    int width = 0, height = 0, margin = 0;  ///< of each picture, and around the sheet
    std::string title;
    std::string surround;            ///< as in SheetPlan, never empty
    std::vector<SheetCell> cells;    ///< by rows: a row is a look (in a light), a column a view
    std::vector<std::string> notes;  ///< what was missing in the pictures, a sentence each
};

/// Makes all pictures, as fine as they get. `title` is taken over; `baseName` is what the base is called.
/// `progress` gets 0..1. Errors: Refused (no look, no view, an unknown look, a size below 16 or above 8192,
/// more than 400 pictures), those of Preview::render; NoMemory; Cancelled.
Result<ContactSheet> makeContactSheet(const Project& project, const Resources& resources,
                                      const std::shared_ptr<SceneStore>& scenes,
                                      const std::filesystem::path& environments, const SheetPlan& plan,
                                      const std::string& baseName, const CancelToken& cancel = {},
                                      const std::function<void(double)>& progress = {});

/// One picture of a look, as fine as it gets: what a turned view's frame is. Errors: as above.
Result<Picture> makeFrame(Preview& preview, const Project& project, const Resources& resources,
                          const std::string& look, const Camera& camera, int width, int height,
                          const CancelToken& cancel = {});

}  // namespace kettle
