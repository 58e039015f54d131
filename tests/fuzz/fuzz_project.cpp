// Any bytes as a project file: read, looked at, compiled and run without files, written and read again.
#include <cstdint>
#include <cstdlib>
#include <string>

#include "core/analysis/checks.h"
#include "core/document/json.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"

using namespace kettle;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string text(reinterpret_cast<const char*>(data), size);
    static_cast<void>(stepsFromText(text));
    static_cast<void>(rampFromText(text, "a ramp"));
    const auto project = projectFromJson(text, "a project");
    if (!project) return 0;
    static_cast<void>(problemsOf(*project));
    const Resources resources("/nowhere");
    for (const Shared<Line>& line : project->lines) {
        for (const Look* look : {static_cast<const Look*>(nullptr),
                                 project->looks.empty() ? nullptr : &*project->looks.front()}) {
            const Compiled compiled = compile(*project, look, {wantOfLine(*line), wantOfLine(*line, true)});
            static_cast<void>(
                runAt(compiled.program, resources.resolve(*project, compiled.program), 0.3f, 0.6f));
        }
    }
    // What was read is written so that it is read again, and is then the same text.
    const std::string written = projectToJson(*project);
    const auto again = projectFromJson(written, "what was written");
    if (!again || projectToJson(*again) != written) std::abort();
    return 0;
}
