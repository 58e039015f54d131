// What a file of an export depends on, as a hash: two items of one identity have the same bytes.
#pragma once

#include <filesystem>
#include <map>
#include <memory>
#include <string>

#include "core/exchange/export.h"

namespace kettle {

/// Made for one project; asks each source file once.
class Identities {
public:
    Identities(const Project& project, const Resources& resources, FileFormat format,
               const WriteChoices& choices);
    ~Identities();
    /// 16 hexadecimal digits, of the steps that lead to the item's lines as its look shows them, the files
    /// that they read (by size and time), the colour settings, the item's size, tile and object, the format,
    /// and the program's version.
    std::string of(const ExportItem& item);

private:
    /// What all lines of a look go by.
    struct OfLook;
    const OfLook& openedFor(const std::string& look);
    std::uint64_t ofLine(const std::string& look, const std::string& line);
    std::uint64_t ofFile(const std::filesystem::path& file);

    const Project& m_project;
    const Resources& m_resources;
    std::string m_settings;
    std::map<std::pair<std::string, std::string>, std::uint64_t> m_lines;
    std::map<std::filesystem::path, std::uint64_t> m_files;
    std::unique_ptr<OfLook> m_last;  ///< items come look by look
};

}  // namespace kettle
