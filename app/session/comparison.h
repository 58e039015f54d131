// What is compared with what: the picture that is shown, with another look, the maps as received, the surface
// before the chosen step, a kept picture or a picture's file.
#pragma once

#include <QImage>
#include <QString>
#include <optional>
#include <string>

#include "core/shading/preview.h"

namespace kettle {

/// A picture that was kept: what it showed, and from where, so that it can be shown again from anywhere.
struct KeptPicture {
    int id = 0;
    QString name;
    QImage picture;
    PreviewSide side;
    Camera camera;
};

enum class CompareWay { Wipe, Beside, Difference };

struct Comparison {
    enum class With { AsReceived, Look, BeforeStep, Kept, File };
    With with = With::AsReceived;
    std::string look{};  ///< With::Look
    int kept = 0;        ///< With::Kept: its id
    QString file{};      ///< With::File
    QImage picture{};    ///< what stands in the file
    CompareWay way = CompareWay::Wipe;
    bool isSwapped = false;  ///< the other one is at the left
};

}  // namespace kettle
