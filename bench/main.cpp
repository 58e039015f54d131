// pale-kettle-bench [--json FILE] [--filter REGEX]: prints every figure and writes it.
#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <cstdio>
#include <map>
#include <nlohmann/json.hpp>
#include <regex>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "core/base/files.h"

namespace {

/// Collects medians in milliseconds (or what a counter named "value" says) by name.
class Figures final : public benchmark::BenchmarkReporter {
public:
    bool ReportContext(const Context&) override { return true; }
    void ReportRuns(const std::vector<Run>& runs) override {
        for (const Run& run : runs) {
            if (run.run_type != Run::RT_Aggregate || run.aggregate_name != "median") continue;
            std::string name = run.run_name.function_name;
            const double ms = run.GetAdjustedRealTime();
            values[name] = ms;
            fmt::print("{:<48} {:>10.2f} ms\n", name, ms);
            std::fflush(stdout);
        }
    }
    std::map<std::string, double> values;
};

/// The window is measured by a program of its own, which needs no screen.
nlohmann::ordered_json windowFigures() {
    std::string text;
    if (FILE* pipe = popen("QT_QPA_PLATFORM=offscreen " KETTLE_WINDOW_BENCH " 2>/dev/null", "r")) {
        char part[512];
        while (std::fgets(part, sizeof part, pipe) != nullptr) text += part;
        pclose(pipe);
    }
    auto figures = nlohmann::ordered_json::parse(text, nullptr, false);
    return figures.is_object() ? figures : nlohmann::ordered_json::object();
}

}  // namespace

int main(int argc, char** argv) {
    CLI::App app{"Measures Pale Kettle; every figure is a median of seven runs."};
    std::string json, filter = ".";
    app.add_option("--json", json, "Write the figures to this file as well");
    app.add_option("--filter", filter, "Only figures whose name matches");
    CLI11_PARSE(app, argc, argv);
    kettle::bench::registerChain();
    kettle::bench::registerPreview();
    kettle::bench::registerReferenceChain();
    kettle::bench::registerLookups();
    kettle::bench::registerPatterns();
    kettle::bench::registerLayers();
    kettle::bench::registerFarm();
    kettle::bench::registerObjects();
    // Repetitions of all figures take turns, so that a change of the machine's speed meets both sides of a
    // ratio.
    std::string own = argv[0], interleave = "--benchmark_enable_random_interleaving=true";
    std::vector<char*> arguments{own.data(), interleave.data()};
    int count = static_cast<int>(arguments.size());
    benchmark::Initialize(&count, arguments.data());
    // First, while this program is small: a new process counts the memory of the one that starts it.
    auto processes = kettle::bench::sevenMaps(filter);
    processes.merge(kettle::bench::udimTiles(filter));
    processes.merge(kettle::bench::largeExports(filter));
    processes.merge(kettle::bench::tenThousandSteps(filter));
    Figures figures;
    benchmark::RunSpecifiedBenchmarks(&figures, filter);
    nlohmann::ordered_json out{{"unit", "ms"}, {"figures", nlohmann::ordered_json::object()}};
    for (const auto& [name, value] : figures.values) out["figures"][name] = value;
    for (const auto& [name, value] : processes) out["processes"][name] = value;
    const auto ratio = [&](const char* name, const char* of, const char* to) {
        const auto a = figures.values.find(of), b = figures.values.find(to);
        if (a == figures.values.end() || b == figures.values.end()) return;
        fmt::print("{:<48} {:>10.2f} ×\n", name, a->second / b->second);
        out["ratios"][name] = a->second / b->second;
    };
    ratio("chain-evaluate-1-thread-to-fused-by-hand", "chain-evaluate-2048-threads-1",
          "chain-fused-by-hand-2048-threads-1");
    ratio("chain-evaluate-2-threads-speed-up", "chain-evaluate-2048-threads-1",
          "chain-evaluate-2048-threads-2");
    const auto inTurn = [&](const std::string& what, double (*measured)(int)) {
        for (const int threads : {1, 2}) {
            const std::string t = what + "-threads-" + std::to_string(threads);
            if (!figures.values.contains("reference-program" + t)) continue;
            const double median = measured(threads);
            fmt::print("{:<48} {:>10.2f} ×\n", "program-to-fused" + t, median);
            out["ratios"]["program-to-fused" + t] = median;
        }
    };
    inTurn("-4096", kettle::bench::bytesRatio);
    inTurn("-540000-points", kettle::bench::pointsRatio);
    if (std::regex_search("hundred-steps", std::regex(filter))) {
        const auto [ratio100, block] = kettle::bench::stepCosts();
        fmt::print("{:<48} {:>10.1f} ×\n{:<48} {:>10.3f} µs\n", "hundred-steps-to-one-step", ratio100,
                   "hundred-steps-block-set-up-per-step", block);
        out["ratios"]["hundred-steps-to-one-step"] = ratio100;
        out["microseconds"]["hundred-steps-block-set-up-per-step"] = block;
    }
    if (std::regex_search("ten-display-steps-to-ten-linear", std::regex(filter))) {
        const double measured = kettle::bench::displayStepsRatio();
        fmt::print("{:<48} {:>10.2f} ×\n", "ten-display-steps-to-ten-linear", measured);
        out["ratios"]["ten-display-steps-to-ten-linear"] = measured;
    }
    if (std::regex_search("window", std::regex(filter))) {
        const auto measured = windowFigures();
        for (const auto& [name, ms] : measured.items()) {
            fmt::print("{:<48} {:>10.2f} ms\n", name, ms.get<double>());
            out["figures"][name] = ms;
        }
    }
    for (const char* peer : {"opencv", "libvips", "openimageio"})
        ratio((std::string(peer) + "-to-program-4096-threads-2").c_str(),
              (std::string("reference-") + peer + "-4096-threads-2").c_str(),
              "reference-program-4096-threads-2");
    ratio("texturesystem-to-lookups-threads-2", "lookups-360000-trilinear-texturesystem-threads-2",
          "lookups-360000-trilinear-threads-2");
    ratio("noise-plain-loop-to-ours", "noise-fractal-4-octaves-plain-loop", "noise-fractal-4-octaves");
    ratio("triplanar-to-straight", "lookup-triplanar", "lookup-straight");
    ratio("break-up-to-straight", "lookup-break-up", "lookup-straight");
    if (json.empty()) return 0;
    if (auto done = kettle::writeFileAtomically(json, out.dump(2) + "\n"); !done) {
        fmt::print(stderr, "{}\n", done.error().sentence);
        return 1;
    }
    return 0;
}
