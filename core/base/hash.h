// Integer hashing: the same on every processor, so that generated data and cached results agree everywhere.
#pragma once

#include <cstdint>
#include <string_view>

namespace kettle {

/// Finaliser of splitmix64 (Steele, Lea and Flood 2014): every input bit reaches every output bit.
constexpr std::uint64_t mixBits(std::uint64_t x) {
    x += 0x9E3779B97F4A7C15ull;
    x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9ull;
    x = (x ^ (x >> 27)) * 0x94D049BB133111EBull;
    return x ^ (x >> 31);
}

/// A new seed from a seed and a value; the order matters.
constexpr std::uint64_t combine(std::uint64_t seed, std::uint64_t value) {
    return mixBits(seed ^ mixBits(value));
}

/// FNV-1a over bytes, then finalised.
constexpr std::uint64_t hashText(std::string_view text) {
    std::uint64_t h = 0xcbf29ce484222325ull;
    for (const char c : text) h = (h ^ static_cast<unsigned char>(c)) * 0x100000001b3ull;
    return mixBits(h);
}

/// A float in [0, 1) from the top 24 bits.
constexpr float unitFloat(std::uint64_t h) {
    return static_cast<float>(h >> 40) * (1.0f / 16777216.0f);
}

}  // namespace kettle
