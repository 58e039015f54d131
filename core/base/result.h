// Results and error sentences: every public function of the core that can fail returns a Result, and every
// Error carries one sentence an artist can act on (what, where, what to do) beside the detail for the log.
#pragma once

#include <exception>
#include <functional>
#include <new>
#include <string>
#include <tl/expected.hpp>
#include <type_traits>
#include <utility>

namespace kettle {

/// What sort of failure it is; the interface chooses its icon and its way out by this.
enum class ErrorKind {
    Missing,     ///< a file or folder is not there
    Unreadable,  ///< it is there and can't be read
    Invalid,     ///< it was read and makes no sense
    Newer,       ///< written by a newer version
    Refused,     ///< the request would break a rule, for example a cycle
    Write,       ///< the result could not be written
    NoMemory,    ///< there is not enough memory for it
    Library,     ///< a library threw what nobody expected
    Cancelled    ///< the artist stopped it; not a failure
};

struct Error {
    ErrorKind kind = ErrorKind::Invalid;
    std::string sentence;  ///< what, where, what to do; ends with a full stop
    std::string detail;    ///< what the library below said; may be empty
};

template <class T>
class [[nodiscard]] Result : public tl::expected<T, Error> {
public:
    using tl::expected<T, Error>::expected;
};

/// The failing value of any Result: `return fail(ErrorKind::Missing, "…");`
/// Passes an error on, as it came.
inline tl::unexpected<Error> fail(ErrorKind kind, std::string sentence, std::string detail = {}) {
    return tl::make_unexpected(Error{kind, std::move(sentence), std::move(detail)});
}

inline tl::unexpected<Error> fail(Error error) {
    return tl::make_unexpected(std::move(error));
}

/// The error that stands for what is being thrown; call it inside a catch block. `doing` goes on from
/// "Cannot": "read wood.exr".
inline Error errorOfException(const std::string& doing) {
    try {
        throw;
    } catch (const std::bad_alloc&) {
        return {ErrorKind::NoMemory,
                "Cannot " + doing + ": there is not enough memory. Close other programs, or ask for less.",
                {}};
    } catch (const std::exception& e) {
        return {ErrorKind::Library,
                "Cannot " + doing + ": a part of the program failed. Save your work and try again.",
                e.what()};
    } catch (...) {
        return {ErrorKind::Library,
                "Cannot " + doing + ": a part of the program failed. Save your work and try again.",
                {}};
    }
}

/// Calls `f`, which returns a Result, and turns whatever is thrown in it (no memory, a library's exceptions)
/// into an error: the frame of public functions, since no exception leaves the core.
template <class F>
std::invoke_result_t<F> guarded(const std::string& doing, F&& f) {
    try {
        return std::invoke(std::forward<F>(f));
    } catch (...) {
        return fail(errorOfException(doing));
    }
}

}  // namespace kettle
