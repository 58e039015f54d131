#include "core/document/network.h"

#include <fmt/format.h>

#include <numeric>

#include "core/document/layers.h"

namespace kettle {

namespace {

std::size_t stepsOf(const Project& project) {
    std::size_t count = 0;
    for (const Shared<Line>& line : project.lines) count += line->steps.size();
    return count;
}

}  // namespace

Network::Network(const Project& project) : m_byStep(stepsOf(project)), m_byLine(project.lines.size()) {
    m_nodes.reserve(stepsOf(project));
    for (const Shared<Line>& line : project.lines) {
        m_byLine.add(line->id, m_lines.size());
        m_first.push_back(m_nodes.size());
        for (const Shared<Step>& step : line->steps) {
            m_byStep.add(step->id, m_nodes.size());
            m_nodes.push_back({&*step, m_lines.size()});
        }
        m_lines.push_back(&*line);
    }
    for (const Shared<Line>& line : project.lines)
        if (line->channel == kHeightChannel)
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
        const auto over = step(fill).feeds.find("over");
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
