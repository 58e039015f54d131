#include "core/document/network.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

#include "core/document/handles.h"
#include "core/document/layers.h"

namespace kettle {

namespace {

/// Lines and steps lie each in memory of its own. What comes soon is asked for while the rest is worked on:
/// a large project would be waited for step by step.
void fetch(const void* memory) {
    __builtin_prefetch(memory);
}

std::size_t stepsOf(const std::vector<Shared<Line>>& lines) {
    constexpr std::size_t kAhead = 16;
    std::size_t count = 0;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (i + kAhead < lines.size()) fetch(&lines[i + kAhead]->steps), fetch(&*lines[i + kAhead]);
        count += lines[i]->steps.size();
    }
    return count;
}

/// Of the lines that come soon the list of their steps, and of the next ones the steps.
void fetchSteps(const std::vector<Shared<Line>>& lines, std::size_t at) {
    constexpr std::size_t kLists = 16, kSteps = 8, kMost = 4;
    if (at + kLists < lines.size()) fetch(lines[at + kLists]->steps.data());
    if (at + kSteps >= lines.size()) return;
    const std::vector<Shared<Step>>& steps = lines[at + kSteps]->steps;
    for (std::size_t k = 0; k < std::min(steps.size(), kMost); ++k) fetch(&*steps[k]);
}

}  // namespace

Network::Network(const Project& project) : m_byStep(stepsOf(project.lines)), m_byLine(project.lines.size()) {
    m_nodes.reserve(m_byStep.room());
    m_lines.reserve(project.lines.size());
    m_first.reserve(project.lines.size());
    for (std::size_t i = 0; i < project.lines.size(); ++i) {
        const Shared<Line>& line = project.lines[i];
        fetchSteps(project.lines, i);
        m_byLine.add(line->id, m_lines.size());
        m_first.push_back(m_nodes.size());
        for (std::size_t k = 0; k < line->steps.size(); ++k) {
            constexpr std::size_t kAhead = 12;
            if (k + kAhead < line->steps.size()) fetch(&*line->steps[k + kAhead]);
            const Step& step = *line->steps[k];
            m_byStep.add(step.id, m_nodes.size());
            m_nodes.push_back({&step, m_lines.size()});
        }
        m_lines.push_back(&*line);
    }
    for (const Shared<Line>& line : project.lines)
        if (line->channel == channel::kHeight)
            for (const Shared<Step>& step : line->steps)
                if (goesByHeight(project, *step))
                    if (const Node head = endOf(layerOf(*step)); head != kNoNode)
                        m_heightFills.try_emplace(head, find(step->id));
}

Node Network::heightFill(Node head) const {
    const auto at = m_heightFills.find(head);
    return at == m_heightFills.end() ? kNoNode : at->second;
}

Node Network::find(std::string_view step) const {
    return m_byStep.find(step);
}

const Line* Network::findLine(std::string_view line) const {
    const std::size_t at = m_byLine.find(line);
    return at == NameIndex::kNone ? nullptr : m_lines[at];
}

Node Network::endOf(std::string_view line) const {
    const std::size_t at = m_byLine.find(line);
    if (at == NameIndex::kNone || m_lines[at]->steps.empty()) return kNoNode;
    return m_first[at] + m_lines[at]->steps.size() - 1;
}

Node Network::tap(std::string_view line, std::string_view after) const {
    const Node end = endOf(line);
    if (end == kNoNode || after.empty()) return end;
    const Node step = find(after);
    return step != kNoNode && m_nodes[step].line == m_nodes[end].line ? step : end;
}

std::vector<Node> Network::inputs(Node node) const {
    std::vector<Node> reads{before(node)};
    for (const auto& [name, feed] : step(node).feeds) reads.push_back(of(feed));
    if (const Node fill = heightFill(node); fill != kNoNode) {
        reads.push_back(before(fill));
        const auto over = step(fill).feeds.find(kOver.id);
        if (over != step(fill).feeds.end()) reads.push_back(of(over->second));
    }
    return reads;
}

std::optional<std::string> findCycle(const Project& p) {
    const Network network(p);
    std::vector<Node> all(network.size());
    std::iota(all.begin(), all.end(), Node{0});
    Node closes = kNoNode;
    network.walk(
        all, [&](Node node) { return closes == kNoNode ? network.inputs(node) : std::vector<Node>{}; },
        [](Node) {}, [&](Node node) { closes = closes == kNoNode ? node : closes; });
    if (closes == kNoNode) return std::nullopt;
    return fmt::format(
        "{} on the line {} would feed itself. Read the line after an earlier step instead, or choose "
        "another line.",
        network.step(closes).id, network.line(closes).name);
}

}  // namespace kettle
