// The steps of a project as a look shows them, for who goes over all of them: a step that the look leaves as
// it is is not copied.
#pragma once

#include <string_view>
#include <unordered_map>
#include <unordered_set>

#include "core/document/network.h"

namespace kettle {

class ShownSteps {
public:
    /// `look` is one of the project's; null: the base. Borrows both, which must outlive it unchanged.
    ShownSteps(const Project& project, const Look* look) : m_project(project), m_look(look) {
        if (look == nullptr) return;
        for (const Changes* changes : {&project.allLooks, &look->changes})
            for (const auto& [key, value] : *changes) m_named.insert(Address::of(key).step);
    }
    /// What withLook() gives for a step of the project; valid as long as this and the project are.
    const Step& of(const Step& step) {
        if (!m_named.contains(step.id)) return step;
        const auto [at, isNew] = m_changed.try_emplace(&step);
        if (isNew) at->second = withLook(m_project, step, m_look);
        return at->second;
    }

private:
    const Project& m_project;
    const Look* m_look;
    std::unordered_set<std::string_view> m_named;  ///< steps that the look, or all looks, change
    std::unordered_map<const Step*, Step> m_changed;
};

}  // namespace kettle
