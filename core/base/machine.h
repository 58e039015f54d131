// What a report says of program and machine.
#pragma once

#include <string>

namespace kettle {

/// "0.2.0"
std::string programVersion();
/// The processor's name and how many of its cores are there: "… (2 cores)".
std::string processorName();

}  // namespace kettle
