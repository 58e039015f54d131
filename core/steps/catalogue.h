// The steps that a program knows, as a value: whoever compiles, checks or shows a project is told by which.
#pragma once

#include <cstddef>
#include <memory>
#include <string>
#include <unordered_map>
#include <vector>

namespace kettle {

struct StepSpec;

/// Cannot change once it is made; copies share their steps, and what find() gives lives as long as any copy.
class Catalogue {
public:
    /// In the order of StepSpec::order. Of two steps of one type the first is found.
    explicit Catalogue(std::vector<StepSpec> steps);

    /// Null for a type that it does not know. Takes constant time.
    const StepSpec* find(const std::string& type) const;
    const StepSpec* begin() const;
    const StepSpec* end() const;
    std::size_t size() const;

private:
    struct List;
    std::shared_ptr<const List> m_list;
};

/// The steps of core/steps: what everybody takes who is given no other.
const Catalogue& shippedSteps();

}  // namespace kettle
