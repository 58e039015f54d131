// What is read of a picture, found by its content: the one answer for importing, dropping, menus and the
// batch tool.
#pragma once

#include <string>

#include "core/engine/resources.h"
#include "core/exchange/map_contents.h"

namespace kettle {

/// What a picture is used for on a scalar line.
enum class PicturePurpose { Mask, Grey };

struct PictureReading {
    Component component;  ///< that a Map step reads
    std::string words;    ///< for people: "its alpha"
};

/// Lets a Map step read it so. Red, which it reads by itself, is not written down.
void setReading(Step& source, const PictureReading& reading);

/// For a mask alpha, where it says something; else a grey picture's grey, the one component that is not the
/// same everywhere, or the displayed grey of a colour picture. A packed map is read by its first component:
/// only its name could tell which is meant.
PictureReading readingFor(const MapContents& contents, PicturePurpose purpose);
/// Of a picture's file. Errors: those of readImage.
Result<PictureReading> readingFor(const std::filesystem::path& file, PicturePurpose purpose);
/// Of a map of a project: as another line of the project reads it on purpose, else by its content. Errors:
/// those of Resources::map.
Result<PictureReading> readingFor(const Project& project, const Resources& resources, const std::string& set,
                                  const std::string& role, PicturePurpose purpose);

}  // namespace kettle
