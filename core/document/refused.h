// Private to core/document: an edit says no.
#pragma once

#include <string>
#include <utility>

#include "core/base/result.h"

namespace kettle::edits {

/// `sentence`: what is wrong, where, and what to do.
inline tl::unexpected<Error> refused(std::string sentence) {
    return fail(ErrorKind::Refused, std::move(sentence));
}

}  // namespace kettle::edits
