// Invert: its type and controls, for code outside the step.
#pragma once

#include "core/document/handles.h"

namespace kettle::invert {

inline constexpr const char* kType = "invert";
/// Who added the step: the artist, or the import because the map is a gloss map.
enum class Reason { ByHand, Gloss };
inline constexpr Option<Reason> kReasons[] = {{Reason::ByHand, "", "chosen by hand"},
                                              {Reason::Gloss, "gloss", "gloss read as roughness"}};
inline constexpr ChoiceHandle<Reason> kFrom{"from", kReasons};

}  // namespace kettle::invert
