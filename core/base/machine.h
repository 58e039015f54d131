// What program and machine are, and where the program's data lies.
#pragma once

#include <filesystem>
#include <string>

namespace kettle {

/// "0.2.0"
std::string programVersion();
/// The processor's name and how many of its cores are there: "… (2 cores)".
std::string processorName();
/// "fused" where the kernels multiply and add with one rounding (AVX2, AVX-512, NEON), "plain" where they
/// round twice: such machines may differ in the last bit of a result, and those of one name do not.
std::string arithmeticName();
/// The models, environments, library and demo: $PALE_KETTLE_DATA; or where an installed program has them, in
/// ../share/pale-kettle/data beside it; or `built`, the folder of the sources that it was built from.
std::filesystem::path programData(const std::filesystem::path& built);

}  // namespace kettle
