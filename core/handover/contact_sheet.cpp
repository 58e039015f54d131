#include "core/handover/contact_sheet.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/analysis/picture_difference.h"
#include "core/base/memory.h"
#include "core/base/names.h"

namespace kettle {
namespace {

constexpr int kMostPictures = 400;

tl::unexpected<Error> refused(std::string sentence) {
    return fail(ErrorKind::Refused, std::move(sentence));
}

Result<void> check(const Project& project, const SheetPlan& plan) {
    if (plan.looks.empty()) return refused("Choose at least one look for the sheet.");
    if (plan.views.empty()) return refused("Choose at least one view for the sheet.");
    for (const std::string& look : plan.looks)
        if (!look.empty() && project.findLook(look) == nullptr)
            return refused(fmt::format("The project has no look {}. Choose another.", look));
    if (std::min(plan.width, plan.height) < 16 || std::max(plan.width, plan.height) > 8192)
        return refused(
            fmt::format("A picture of {} x {} pixels cannot be made. Choose 16 to 8192 for both sides.",
                        plan.width, plan.height));
    const std::size_t count =
        plan.looks.size() * plan.views.size() * std::max<std::size_t>(1, plan.environments.size());
    if (count > kMostPictures)
        return refused(
            fmt::format("The sheet would have {} pictures. Choose fewer looks, views or lights, so that "
                        "there are at most {}.",
                        count, kMostPictures));
    // Each is kept as it is shown, and is painted once more into the sheet.
    const auto bytes = static_cast<std::uint64_t>(count) * static_cast<std::uint64_t>(plan.width) *
                       static_cast<std::uint64_t>(plan.height) * 12;
    return needMemory(bytes, fmt::format("make a sheet of {} pictures", count), "Choose a smaller size.");
}

/// The sheet's shape: several views are columns of their own; else the looks are laid out in rows.
void shape(ContactSheet& sheet, const SheetPlan& plan) {
    const int count = static_cast<int>(sheet.cells.size()), views = static_cast<int>(plan.views.size());
    const int lights = static_cast<int>(std::max<std::size_t>(1, plan.environments.size()));
    if (views > 1)
        sheet.columns = views;
    else if (plan.columns > 0)
        sheet.columns = std::min(plan.columns, count);
    else if (plan.looks.size() > 1 && lights > 1)
        sheet.columns = lights;
    else
        sheet.columns = count <= 3 ? count : static_cast<int>(std::ceil(std::sqrt(count)));
    sheet.rows = (count + sheet.columns - 1) / sheet.columns;
}

}  // namespace

std::optional<SheetView> viewFrom(const Camera& camera, const std::string& side) {
    SheetView view{side, camera};
    struct Side {
        const char* name;
        std::optional<float> turn, tilt;
    };
    const Side sides[] = {
        {"front", 0, {}}, {"right", 90, {}}, {"back", 180, {}}, {"left", 270, {}}, {"above", {}, 70}};
    for (const Side& known : sides)
        if (side == known.name) {
            view.camera.turn = known.turn.value_or(view.camera.turn);
            view.camera.tilt = known.tilt.value_or(view.camera.tilt);
            return view;
        }
    return std::nullopt;
}

std::vector<SheetView> turnedViews(const Camera& camera, int count) {
    std::vector<SheetView> views;
    for (int i = 0; i < std::clamp(count, 1, 3600); ++i) {
        Camera turned = camera;
        turned.turn =
            std::fmod(camera.turn + 360.0f * static_cast<float>(i) / static_cast<float>(count), 360.0f);
        views.push_back({fmt::format("{:.0f}°", 360.0 * i / count), turned});
    }
    return views;
}

Result<ContactSheet> makeContactSheet(const Project& project, const Resources& resources,
                                      const std::shared_ptr<SceneStore>& scenes,
                                      const std::filesystem::path& environments, const SheetPlan& plan,
                                      const std::string& baseName, const CancelToken& cancel,
                                      const std::function<void(double)>& progress) {
    return guarded("make the contact sheet", [&]() -> Result<ContactSheet> {
        if (auto good = check(project, plan); !good) return fail(good.error());
        std::vector<std::string> lights = plan.environments;
        if (lights.empty()) lights.push_back(project.view.environment);
        ContactSheet sheet;
        sheet.width = plan.width, sheet.height = plan.height, sheet.margin = plan.margin;
        sheet.title = plan.title;
        sheet.surround = plan.surround.empty() ? project.view.surround : plan.surround;
        sheet.cells.resize(plan.looks.size() * lights.size() * plan.views.size());
        shape(sheet, plan);
        Preview preview(scenes, environments);
        PreviewRequest request;
        request.project = project;
        request.project.view.surround = sheet.surround;
        request.width = plan.width, request.height = plan.height;
        const double steps = static_cast<double>(lights.size() * plan.views.size() * Preview::kLastStage);
        double done = 0;
        for (std::size_t light = 0; light < lights.size(); ++light)
            for (std::size_t view = 0; view < plan.views.size(); ++view) {
                request.project.view.environment = lights[light];
                request.camera = plan.views[view].camera;
                // All looks at once: they share what is visible, and each other's work.
                request.look = plan.looks.front();
                request.others.clear();
                for (std::size_t look = 1; look < plan.looks.size(); ++look)
                    request.others.push_back({request.project, plan.looks[look], {}});
                const auto first = preview.renderAtRest(request, resources, cancel, [&] {
                    if (progress) progress(++done / steps);
                });
                if (!first) return fail(first.error());
                const std::vector<std::uint8_t>& covered = preview.covered();
                for (std::size_t look = 0; look < plan.looks.size(); ++look) {
                    SheetCell& cell = sheet.cells[(look * lights.size() + light) * plan.views.size() + view];
                    cell.picture = look == 0 ? *first : preview.others()[look - 1];
                    const Look* known = project.findLook(plan.looks[look]);
                    cell.name = known != nullptr ? known->name : baseName;
                    if (plan.views.size() > 1) cell.name += " · " + plan.views[view].name;
                    if (lights.size() > 1) cell.name += " · " + shownName(lights[light]);
                    if (look > 0 && plan.differences)
                        cell.difference =
                            differenceOfPictures(first->pixels.data(), cell.picture.pixels.data(),
                                                 first->pixels.size(), covered.data())
                                .mean;
                    if (!plan.names) cell.name.clear();
                }
                for (const std::string& problem : preview.problems())
                    if (std::find(sheet.notes.begin(), sheet.notes.end(), problem) == sheet.notes.end())
                        sheet.notes.push_back(problem);
            }
        return sheet;
    });
}

Result<Picture> makeFrame(Preview& preview, const Project& project, const Resources& resources,
                          const std::string& look, const Camera& camera, int width, int height,
                          const CancelToken& cancel) {
    PreviewRequest request;
    request.project = project;
    request.look = look;
    request.camera = camera;
    request.width = width, request.height = height;
    return preview.renderAtRest(request, resources, cancel);
}

}  // namespace kettle
