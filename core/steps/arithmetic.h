// Arithmetic functions of one to three numbers, shared by Maths, Formula and the code that emits programs.
#pragma once

#include <string_view>
#include <vector>

#include "core/program/program.h"

namespace kettle {

enum class Arithmetic {
    Add,
    Subtract,
    Multiply,
    Divide,
    Power,
    Min,
    Max,
    Modulo,
    Distance,
    Step,
    Greater,
    Equal,
    SmoothStep,
    Clamp,
    Mix,
    MultiplyAdd,
    Select,
    Absolute,
    Negate,
    OneMinus,
    Floor,
    Ceiling,
    Round,
    Fraction,
    Sign,
    Saturate,
    SquareRoot,
    CubeRoot,
    Exponential,
    Logarithm,
    Sine,
    Cosine,
    ArcTangent,
    Smooth,
    Encode,
    Decode
};
struct ArithmeticFunction {
    Arithmetic function;
    const char* id;
    const char* name;
    int inputs;
    const char* purpose;
    Op op;
};
/// All of them, in the order of the enumeration and of Maths' menu.
const std::vector<ArithmeticFunction>& arithmetic();
/// Null if there is none.
const ArithmeticFunction* findArithmetic(std::string_view id);
const Op& arithmeticOp(Arithmetic function);

}  // namespace kettle
