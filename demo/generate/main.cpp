// Makes the demo data: the river ferry's kitchen. Deterministic: the same files on every machine.
#include <fmt/format.h>

#include <cstdio>

#include "demo/generate/paint.h"

int main(int argc, char** argv) {
    using namespace kettle::demo;
    if (argc != 2) {
        fmt::print(stderr, "Name the folder to write the demo data to.\n");
        return 2;
    }
    const std::filesystem::path folder = argv[1];
    const std::pair<const char*, kettle::Result<void> (*)(const std::filesystem::path&)> parts[] = {
        {"enamel_kettle", writeKettle},
        {"glazed_tile", writeTile},
        {"rattan", writeRattan},
        {"sailcloth", writeSailcloth},
        {"ferry_hull", writeHull},
        {"galley_stove", writeStove},
        {"models", writeModels},
        {"environments", writeEnvironments},
        {"test_card", writeTestCard},
        {"ferry_mark", writeFerryMark},
        {"library", writeLibrary},
        {"", writeProject},
        {"", writeFloor},
        {"", writeShelf},
        {"", writeWall},
    };
    for (const auto& [name, write] : parts)
        if (auto done = write(folder / name); !done) {
            fmt::print(stderr, "{} [{}]\n", done.error().sentence, done.error().detail);
            return 1;
        }
    return 0;
}
