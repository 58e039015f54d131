// Edits: functions from a project to the next one. They never leave a half-made project: the result is a
// whole new value or an error. A look id of "" means the base that every look builds on.
#pragma once

#include <optional>
#include <string>

#include "core/document/project.h"

namespace kettle::edits {

/// An id that no step, line, set or look of the project uses yet: "s7", "grain-2" …
std::string freshId(const Project& project, const std::string& stem);
/// The same made of a name that people read: "Damp foot" gives "damp-foot"; `otherwise` for a name of
/// nothing.
std::string freshIdOf(const Project& project, const std::string& name, const std::string& otherwise);

/// Puts a step at `index` of a line (0 is the source). In a look the step is bypassed in the base and
/// switched on by the look, so that other looks stay as they are. Errors: Refused (no such line, index out of
/// range, a cycle).
Result<Project> insertStep(const Project& project, const std::string& look, const std::string& line,
                           std::size_t index, Step step);

/// Puts steps, one after the other, at `index` of a line under fresh ids; feeds to lines that are not there,
/// or that would make a cycle, are taken off. `ids` gets the new ids. Errors: Refused (as insertStep; a
/// source among the steps).
Result<Project> pasteSteps(const Project& project, const std::string& look, const std::string& line,
                           std::size_t index, const std::vector<Step>& steps, std::vector<std::string>& ids);

/// Adds a shared line of one source and joins a feed to it: a new mask, pattern or colour where it is needed.
/// `source` gets a fresh id, and so does the line, which is named `name`. Errors: Refused (unknown step).
Result<Project> feedFromNewLine(const Project& project, const std::string& step, const std::string& feed,
                                const std::string& name, Kind kind, Step source);

/// Removes a step everywhere: taps on it then read the step before it. Errors: Refused (a line's source
/// stays).
Result<Project> removeStep(const Project& project, const std::string& step);

/// Moves a step along its line or to another. Errors: Refused (sources stay; cycles).
Result<Project> moveStep(const Project& project, const std::string& step, const std::string& line,
                         std::size_t index);

/// Sets one control of a step: in the base (`look` empty) or in a look. A value that equals the one below it
/// is taken out again. Errors: Refused (no such step or look, a value that cannot be stored).
Result<Project> setControl(const Project& project, const std::string& look, const std::string& step,
                           const std::string& control, ControlValue value);
/// Back to what is below: in a look to the base's value, in the base to the step's default.
Result<Project> resetControl(const Project& project, const std::string& look, const std::string& step,
                             const std::string& control);
/// The step as a new one of its type, in all looks: what it holds stays, what it leaves to the defaults
/// follows the newest ones. Errors: Refused (no such step).
Result<Project> useNewestVersion(const Project& project, const std::string& step);
Result<Project> setBypass(const Project& project, const std::string& look, const std::string& step,
                          bool bypass);

/// What a look changes of a step (of one control, or with "" of all) from now on holds in all looks, and a
/// change of it in any of them is one for all; the base stays. Errors: Refused (no such step or look).
Result<Project> holdInAllLooks(const Project& project, const std::string& look, const std::string& step,
                               const std::string& control = {});
/// And back: what held in all looks holds in this one alone. Errors: as above.
Result<Project> holdInOneLook(const Project& project, const std::string& look, const std::string& step,
                              const std::string& control = {});

/// Joins a feed or, with nullopt, takes it off. Errors: Refused (unknown line or step, a cycle).
Result<Project> setFeed(const Project& project, const std::string& step, const std::string& feed,
                        std::optional<Feed> value);

/// Errors: Refused (its id is taken).
Result<Project> addLine(const Project& project, Line line);
/// Errors: Refused (another line reads it).
Result<Project> removeLine(const Project& project, const std::string& line);

/// A new look with the changes of `copyOf` ("" for none). Returns the project; the id is `id`.
Result<Project> addLook(const Project& project, const std::string& id, const std::string& name,
                        const std::string& copyOf);
Result<Project> removeLook(const Project& project, const std::string& look);
Result<Project> renameLook(const Project& project, const std::string& look, const std::string& name);

/// Adds a map to a set under a role that is free there; `role` gets it. `file` relative to the set's folder.
/// Errors: Refused (no such set).
Result<Project> addMap(const Project& project, const std::string& set, const std::string& file,
                       std::string& role);

/// The same map from another file (relative to the set's folder; "<UDIM>" for a tile's number), with all work
/// kept. Errors: Refused (no such set or map).
Result<Project> setFile(const Project& project, const std::string& set, const std::string& role,
                        const std::string& file);
Result<Project> setEncoding(const Project& project, const std::string& set, const std::string& role,
                            const std::string& encoding);
/// Which of the pictures in its file the map is; empty: its colours.
Result<Project> setMapChannels(const Project& project, const std::string& set, const std::string& role,
                               const std::string& channels);
Project setView(const Project& project, ViewSettings view);

}  // namespace kettle::edits
