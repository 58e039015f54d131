// The one walk over the network: every step as a node with a number, found by its id, with what it reads.
// Compiling, cycles, looks, effects, checks, the board and search go over a project by it, in loops and not
// by recursion, so that a line of ten thousand steps is a document like any other.
//
// Addresses are stable: a step's is its id, a control's "step.control", as a look's changes are keyed.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <utility>
#include <vector>

#include "core/base/name_index.h"
#include "core/document/project.h"

namespace kettle {

/// A step's number: lines in the order of the project, each from its source to its end.
using Node = std::size_t;
inline constexpr Node kNoNode = NameIndex::kNone;

/// "step.control" taken apart; the control is empty if there is no dot.
struct Address {
    std::string_view step, control;
    /// The views are into `key`, which must outlive them.
    static Address of(std::string_view key) {
        const auto dot = key.find('.');
        return dot == std::string_view::npos ? Address{key, {}}
                                             : Address{key.substr(0, dot), key.substr(dot + 1)};
    }
};

class Network {
public:
    /// Borrows the project, which must outlive it unchanged. Takes time in proportion to its steps.
    explicit Network(const Project& project);

    /// How many steps there are; nodes are below it.
    std::size_t size() const { return m_nodes.size(); }
    /// What a node is and where it stands: its line, the line's place in the project, its place on the line.
    /// node < size(); not checked.
    const Step& step(Node node) const { return *m_nodes[node].step; }
    const Line& line(Node node) const { return *m_lines[m_nodes[node].line]; }
    std::size_t lineIndex(Node node) const { return m_nodes[node].line; }
    std::size_t index(Node node) const { return node - m_first[m_nodes[node].line]; }

    /// kNoNode if there is none.
    Node find(std::string_view step) const;
    const Line* findLine(std::string_view line) const;
    /// The last step of a line; kNoNode for an empty or an unknown one.
    Node endOf(std::string_view line) const;
    /// The step that a tap reads: after `after`, or the line's end if that is empty or not on this line.
    Node tap(std::string_view line, std::string_view after) const;
    /// What a feed reads; kNoNode for a constant and for a line that is not there.
    Node of(const Feed& feed) const { return feed.constant ? kNoNode : tap(feed.line, feed.after); }
    /// The step before it on its line; kNoNode for the source.
    Node before(Node node) const { return index(node) == 0 ? kNoNode : node - 1; }
    /// What the step reads, as it is stored: the step before it, its feeds in the order of their names, and
    /// for the head of a layer that goes by height in any look the two heights.
    std::vector<Node> inputs(Node node) const;
    /// The fill by which a layer's head may go by height: on the line of the height, in the mode "by-height"
    /// in the base or in any look. kNoNode if there is none.
    Node heightFill(Node head) const;

    /// Visits what `roots` need, depth first, without recursion: `inputs(node)` gives a vector of nodes, and
    /// `leave(node)` is called once for each node, after all that it reads. A node that is met again while it
    /// is still open closes a cycle: `onCycle(node)` is told of it, and the walk goes on as if it were not
    /// read.
    template <class Inputs, class Leave, class OnCycle>
    void walk(const std::vector<Node>& roots, Inputs&& inputs, Leave&& leave, OnCycle&& onCycle) const;

private:
    struct Entry {
        const Step* step;
        std::size_t line;
    };
    std::vector<Entry> m_nodes;
    std::vector<const Line*> m_lines;
    std::vector<Node> m_first;  ///< of each line
    NameIndex m_byStep, m_byLine;
    std::unordered_map<Node, Node> m_heightFills;  ///< by the layer's head
};

/// The sentence that names the first cycle of feeds, or nothing. A tap on an earlier step of the same line is
/// no cycle.
std::optional<std::string> findCycle(const Project& project);

template <class Inputs, class Leave, class OnCycle>
void Network::walk(const std::vector<Node>& roots, Inputs&& inputs, Leave&& leave, OnCycle&& onCycle) const {
    enum class Mark : unsigned char { None, Open, Done };
    struct Frame {
        Node node;
        std::vector<Node> reads;
        std::size_t next = 0;
    };
    std::vector<Mark> marks(size(), Mark::None);
    std::vector<Frame> open;
    const auto enter = [&](Node node) {
        if (node == kNoNode || marks[node] == Mark::Done) return;
        if (marks[node] == Mark::Open) return static_cast<void>(onCycle(node));
        marks[node] = Mark::Open;
        open.push_back({node, inputs(node)});
    };
    for (const Node root : roots) {
        enter(root);
        while (!open.empty()) {
            Frame& top = open.back();
            if (top.next < top.reads.size()) {
                enter(top.reads[top.next++]);
                continue;
            }
            const Node node = top.node;
            open.pop_back();
            marks[node] = Mark::Done;
            leave(node);
        }
    }
}

}  // namespace kettle
