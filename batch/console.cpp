#include "batch/console.h"

#include <fmt/format.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <cstring>

#include "batch/json_text.h"

namespace kettle::batch {
namespace {

constexpr const char *kRed = "31", *kYellow = "33";

/// The convention of no-color.org, and terminals that know no colours.
bool mayColour() {
    const char *refused = std::getenv("NO_COLOR"), *terminal = std::getenv("TERM");
    return (refused == nullptr || *refused == '\0') &&
           (terminal == nullptr || std::strcmp(terminal, "dumb") != 0);
}

}  // namespace

Console::Console(const Manner& manner)
    : m_manner(manner), m_isTerminal(isatty(STDERR_FILENO) != 0), m_hasColour(m_isTerminal && mayColour()) {}

std::string Console::coloured(const char* code, const std::string& text) const {
    return m_hasColour ? fmt::format("\x1b[{}m{}\x1b[0m", code, text) : text;
}

void Console::say(const std::string& line) {
    clearProgress();
    if (m_manner.json)
        m_says.push_back(line);
    else if (!m_manner.quiet)
        fmt::print("{}\n", line);
}

void Console::wrote(const std::filesystem::path& file, bool isNew) {
    clearProgress();
    if (m_manner.json)
        m_files.push_back({{"file", file.string()}, {"written", isNew}});
    else if (!m_manner.quiet)
        fmt::print("{}\n", file.string());
    if (!isNew) detail(file.string() + " is up to date.");
}

void Console::tell(const std::string& line) {
    if (m_manner.quiet) return;
    clearProgress();
    fmt::print(stderr, "{}\n", line);
}

void Console::warn(const std::string& sentence) {
    m_warnings.push_back(sentence);
    if (m_manner.quiet) return;
    clearProgress();
    fmt::print(stderr, "{} {}\n", coloured(kYellow, "warning:"), sentence);
}

void Console::warn(const Problems& sentences) {
    for (const std::string& sentence : sentences) warn(sentence);
}

void Console::detail(const std::string& line) {
    if (m_manner.verbose) tell(line);
}

void Console::set(const std::string& key, Json value) {
    if (m_manner.json) m_answer[key] = std::move(value);
}

void Console::progress(double fraction, const std::string& what) {
    if (!m_isTerminal || m_manner.quiet) return;
    fmt::print(stderr, "\r\x1b[K{:3.0f} %  {:.60}", fraction * 100, what);
    std::fflush(stderr);
    m_showsProgress = true;
}

void Console::clearProgress() {
    if (!m_showsProgress) return;
    m_showsProgress = false;
    fmt::print(stderr, "\r\x1b[K");
}

int Console::finish(Problems problems) {
    clearProgress();
    if (m_manner.json) {
        Json answer{{"ok", problems.empty()}};
        answer.update(m_answer);
        if (!m_files.empty()) answer["files"] = m_files;
        if (!m_says.empty()) answer["says"] = m_says;
        answer["warnings"] = m_warnings;
        answer["errors"] = problems;
        fmt::print("{}\n", printed(answer));
    }
    // What is printed is part of the result: a full disk behind it is a failure.
    if (std::fflush(stdout) != 0 || std::ferror(stdout) != 0)
        problems.emplace_back(
            "Cannot print the result: where it goes has no room or is closed. Print it elsewhere.");
    for (const std::string& sentence : problems) fmt::print(stderr, "{}\n", coloured(kRed, sentence));
    return problems.empty() ? 0 : 1;
}

}  // namespace kettle::batch
