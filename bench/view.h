// A view of the kettle in which everything but a slider's value is known already.
#pragma once

#include <string>
#include <utility>

#include "core/document/json.h"
#include "core/shading/preview.h"

namespace kettle::bench {

inline const std::filesystem::path kData = KETTLE_DATA_DIR;

/// 900 x 600 points of the kettle, shown once in full.
struct View {
    Preview preview{kData / "models", kData / "environments"};
    Resources resources{kData};
    PreviewRequest request;
    View(Project project, std::string look) {
        request.project = std::move(project);
        request.look = std::move(look);
        request.camera.frame((*preview.scene("kettle"))->mesh(), 1.5f);
        for (const int stage : {0, 1}) (void)preview.render(request, resources, stage).has_value();
    }
};

}  // namespace kettle::bench
