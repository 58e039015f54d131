// Linked into test programs that are run with sanitized libraries though they are built without
// (sanitized.cmake): the first memory is asked for before any library begins, as in a program that is built
// with the address sanitizer. Else a library's beginning may ask first, inside a lock that the sanitizer's
// own beginning needs.
#include <cstdlib>

namespace {

void askForMemory() {
    void* volatile memory = std::malloc(1);
    std::free(memory);
}

__attribute__((section(".preinit_array"), used)) void (*const kBeforeAll)() = askForMemory;

}  // namespace
