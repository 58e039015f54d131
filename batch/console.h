// How the commands talk. What was asked for goes to standard output, as lines or as one JSON object;
// warnings, errors and progress go to standard error.
#pragma once

#include <filesystem>
#include <functional>
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace kettle::batch {

using Problems = std::vector<std::string>;

/// What every command can be told by --json, --quiet and --verbose.
struct Manner {
    bool json = false;     ///< one object with everything, instead of lines
    bool quiet = false;    ///< nothing but errors, and JSON if it is asked for
    bool verbose = false;  ///< what is done meanwhile, and how long it took
};

class Console {
public:
    using Json = nlohmann::ordered_json;

    explicit Console(const Manner& manner);
    bool isJson() const { return m_manner.json; }
    /// A line of the answer.
    void say(const std::string& line);
    /// A file that is there now; `isNew`: it was written by this command.
    void wrote(const std::filesystem::path& file, bool isNew = true);
    /// A line about the work, on standard error.
    void tell(const std::string& line);
    void warn(const std::string& sentence);
    void warn(const Problems& sentences);
    /// Only where it is asked to be verbose.
    void detail(const std::string& line);
    /// A key of the JSON object; nothing where lines are printed.
    void set(const std::string& key, Json value);
    /// Progress, 0..1, on a terminal and nowhere else; any thread, one call at a time.
    void progress(double fraction, const std::string& what);
    /// Prints what is left to print: the JSON object, or the errors. Gives the exit code: 0, or 1 for a
    /// problem. Standard output that cannot be written to is one.
    int finish(Problems problems);

private:
    std::string coloured(const char* code, const std::string& text) const;
    void clearProgress();

    Manner m_manner;
    bool m_isTerminal, m_hasColour, m_showsProgress = false;
    Json m_answer = Json::object(), m_files = Json::array(), m_says = Json::array(),
         m_warnings = Json::array();
};

}  // namespace kettle::batch
