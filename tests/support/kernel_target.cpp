// Linked into tests of kernels: the instruction set that KETTLE_KERNELS names ("baseline", "sse4", "avx2",
// "avx3") is the only one they find. Ends the program with 77 (skipped) on a machine that does not have it.
#include <hwy/targets.h>

#include <cstdlib>
#include <map>
#include <string>

namespace {

const bool kIsChosen = [] {
    const char* name = std::getenv("KETTLE_KERNELS");
    if (name == nullptr) return false;
    const std::map<std::string, std::int64_t> kTargets{
        {"baseline", HWY_STATIC_TARGET}, {"sse4", HWY_SSE4}, {"avx2", HWY_AVX2}, {"avx3", HWY_AVX3}};
    const auto wanted = kTargets.find(name);
    if (wanted == kTargets.end() || (hwy::SupportedTargets() & wanted->second) == 0) std::exit(77);
    hwy::SetSupportedTargetsForTest(wanted->second);
    return true;
}();

}  // namespace
