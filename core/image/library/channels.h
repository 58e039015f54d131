// Which of a file's channels make a picture, by their names.
#pragma once

#include <OpenImageIO/imageio.h>

#include <string>
#include <vector>

namespace kettle::library {

/// Which stored channels make the picture, and whether the last of them is an alpha.
struct Picked {
    std::vector<int> channels;
    bool hasAlpha = false;
    int part = 0;  ///< of a file in several parts (EXR)
};

/// The colours of a file or of its part. By their names where they have any (EXR: the last part, "layer.R"),
/// never by their place alone: a depth or a mask beside the colours is none of them.
Picked pickChannels(const OIIO::ImageSpec& spec);

/// A picture beside the colours.
struct Other {
    std::string name;
    Picked picked;
};

/// All pictures of the file beside its colours. Formats whose channels have no names of their own hold none.
std::vector<Other> othersOf(OIIO::ImageInput& input);

}  // namespace kettle::library
