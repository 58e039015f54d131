#include "core/document/sources.h"

namespace kettle {

Step plainSource(Kind kind, Vec3 value) {
    Step source;
    switch (kind) {
        case Kind::Colour:
            source.type = kColourSource;
            source.controls = {kColour({value.x, value.y, value.z})};
            break;
        case Kind::Scalar:
            source.type = kValueSource;
            source.controls = {kValue(static_cast<double>(value.x))};
            break;
        case Kind::Normal:
            source.type = kFlatNormalSource;
            break;
    }
    return source;
}

}  // namespace kettle
