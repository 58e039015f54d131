// What others know of the step that reads a map, and how its map lies, as numbers.
#pragma once

#include "core/document/sources.h"
#include "core/program/placed.h"
#include "core/steps/placing.h"
#include "core/steps/step.h"

namespace kettle {

/// What is read of a map on a grey line.
inline constexpr ChoiceHandle<Component> kMapComponent{"component", kMapComponents};

/// How a map lies: by the texture coordinates, from the model's three sides, or in stamps.
enum class MapLies { Straight, Sides, Scattered };
inline constexpr Option<MapLies> kMapLiesOptions[] = {{MapLies::Straight, "straight", "in the texture"},
                                                      {MapLies::Sides, "sides", "from three sides"},
                                                      {MapLies::Scattered, "scattered", "scattered"}};
inline constexpr ChoiceHandle<MapLies> kLies{"lies", kMapLiesOptions};

/// What lies beside the map, and above and below it.
inline constexpr Option<Placed::Beyond> kBeyondOptions[] = {{Placed::Beyond::Repeat, "repeat", "repeats"},
                                                            {Placed::Beyond::Mirror, "mirror", "mirrors"},
                                                            {Placed::Beyond::Once, "once", "once"}};
inline constexpr ChoiceHandle<Placed::Beyond> kAcross{"across", kBeyondOptions}, kUp{"up", kBeyondOptions};

/// Which way the green of a normal map points.
enum class Green { Up, Down };
inline constexpr Option<Green> kGreens[] = {{Green::Up, "up", "up (OpenGL)"},
                                            {Green::Down, "down", "down (DirectX)"}};
inline constexpr ChoiceHandle<Green> kGreen{"green", kGreens};

inline constexpr ToggleHandle kOwnPlace{"own-place"};  ///< lies otherwise than its set
inline constexpr InputHandle kWhere{"where"};          ///< how likely a stamp lies

/// How the map of a step with the editor MapFile lies in the texture. For one that lies from three sides it
/// is what it would be there.
Placed placementOf(const StepView& view);

}  // namespace kettle
