// Map: its type and controls, for code outside the step, and its texture transform.
#pragma once

#include "core/document/sources.h"
#include "core/program/placed.h"
#include "core/steps/placement_controls.h"
#include "core/steps/step.h"

namespace kettle {

/// The component that a scalar line reads.
inline constexpr ChoiceHandle<Component> kMapComponent{"component", kMapComponents};

/// How a map is projected: by texture coordinates, triplanar, or scattered as stamps.
enum class MapProjection { Uv, Triplanar, Scattered };
inline constexpr Option<MapProjection> kMapProjections[] = {
    {MapProjection::Uv, "straight", "in the texture"},
    {MapProjection::Triplanar, "sides", "from three sides"},
    {MapProjection::Scattered, "scattered", "scattered"}};
inline constexpr ChoiceHandle<MapProjection> kProjection{"lies", kMapProjections};

/// Wrap modes across (U) and up (V).
inline constexpr Option<Placed::Beyond> kWrapModes[] = {{Placed::Beyond::Repeat, "repeat", "repeats"},
                                                        {Placed::Beyond::Mirror, "mirror", "mirrors"},
                                                        {Placed::Beyond::Once, "once", "once"}};
inline constexpr ChoiceHandle<Placed::Beyond> kWrapU{"across", kWrapModes}, kWrapV{"up", kWrapModes};

/// Direction of a normal map's green component.
enum class Green { Up, Down };
inline constexpr Option<Green> kGreens[] = {{Green::Up, "up", "up (OpenGL)"},
                                            {Green::Down, "down", "down (DirectX)"}};
inline constexpr ChoiceHandle<Green> kGreen{"green", kGreens};

inline constexpr ToggleHandle kOwnPlace{"own-place"};  ///< uses its own placement, not the set's
inline constexpr InputHandle kWhere{"where"};          ///< probability of a stamp

/// The texture transform of a step with the editor MapFile. Of a triplanar map: as if it used the texture
/// coordinates.
Placed placementOf(const StepView& view);

}  // namespace kettle
