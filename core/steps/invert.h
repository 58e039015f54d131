// What others know of Invert.
#pragma once

#include "core/document/handles.h"

namespace kettle::invert {

inline constexpr const char* kType = "invert";
/// Why it is there: a gloss map is inverted when its folder is brought in.
enum class Reason { ByHand, Gloss };
inline constexpr Option<Reason> kReasons[] = {{Reason::ByHand, "", "chosen by hand"},
                                              {Reason::Gloss, "gloss", "gloss read as roughness"}};
inline constexpr ChoiceHandle<Reason> kFrom{"from", kReasons};

}  // namespace kettle::invert
