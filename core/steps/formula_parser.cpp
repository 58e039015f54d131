#include "core/steps/formula_parser.h"

#include <fmt/format.h>

#include <array>
#include <cctype>
#include <charconv>
#include <cmath>

namespace kettle::formula {
namespace {

struct Function {
    const char* name;
    int arguments;
    const char* form;
};
constexpr std::array<Function, 28> kFunctions{{
    {"rgb", 3, "rgb(r, g, b)"},
    {"hsv", 3, "hsv(hue in degrees, s, v)"},
    {"lum", 1, "lum(colour)"},
    {"min", 2, "min(x, y)"},
    {"max", 2, "max(x, y)"},
    {"clamp", 3, "clamp(x, low, high)"},
    {"saturate", 1, "saturate(x)"},
    {"mix", 3, "mix(x, y, amount)"},
    {"step", 2, "step(edge, x)"},
    {"smoothstep", 3, "smoothstep(low, high, x)"},
    {"smooth", 1, "smooth(x)"},
    {"abs", 1, "abs(x)"},
    {"sign", 1, "sign(x)"},
    {"floor", 1, "floor(x)"},
    {"ceil", 1, "ceil(x)"},
    {"round", 1, "round(x)"},
    {"fract", 1, "fract(x)"},
    {"mod", 2, "mod(x, y)"},
    {"pow", 2, "pow(x, exponent)"},
    {"sqrt", 1, "sqrt(x)"},
    {"cbrt", 1, "cbrt(x)"},
    {"exp", 1, "exp(x)"},
    {"log", 1, "log(x)"},
    {"sin", 1, "sin(degrees)"},
    {"cos", 1, "cos(degrees)"},
    {"atan2", 2, "atan2(y, x)"},
    {"encode", 1, "encode(linear)"},
    {"decode", 1, "decode(encoded)"},
}};

/// Thrown inside this file only.
struct Problem {
    std::string what;
    std::size_t at;
};

constexpr int kDeepest = 64;  ///< brackets within brackets; far beyond what anybody types

class Parser {
public:
    explicit Parser(const std::string& text) : m_text(text) {}

    Tree whole() {
        Tree tree = choice(0);
        skip();
        if (m_at < m_text.size()) stop(fmt::format("\"{}\" does not belong here", m_text[m_at]));
        return tree;
    }

private:
    [[noreturn]] void stop(const std::string& what) const { throw Problem{what, m_at + 1}; }

    void skip() {
        while (m_at < m_text.size() && std::isspace(static_cast<unsigned char>(m_text[m_at])) != 0) ++m_at;
    }
    bool take(const char* token) {
        skip();
        const std::string wanted = token;
        if (m_text.compare(m_at, wanted.size(), wanted) != 0) return false;
        m_at += wanted.size();
        return true;
    }
    void need(const char* token) {
        if (take(token)) return;
        if (m_at >= m_text.size()) stop(fmt::format("\"{}\" is missing at the end", token));
        stop(fmt::format("\"{}\" is expected before \"{}\"", token, m_text[m_at]));
    }
    template <class... Arguments>
    Tree call(const char* name, std::size_t at, Arguments... arguments) {
        auto node = std::make_unique<Node>();
        node->type = Node::Type::Call;
        node->name = name;
        node->at = at;
        (node->arguments.push_back(std::move(arguments)), ...);
        return node;
    }

    Tree choice(int depth) {
        if (depth > kDeepest) stop("there are too many brackets within each other");
        Tree condition = either(depth);
        const std::size_t at = m_at + 1;
        if (!take("?")) return condition;
        Tree yes = choice(depth + 1);
        need(":");
        return call("select", at, std::move(condition), std::move(yes), choice(depth + 1));
    }
    Tree either(int depth) {
        Tree left = both(depth);
        for (std::size_t at = m_at + 1; take("||"); at = m_at + 1)
            left = call("or", at, std::move(left), both(depth));
        return left;
    }
    Tree both(int depth) {
        Tree left = comparison(depth);
        for (std::size_t at = m_at + 1; take("&&"); at = m_at + 1)
            left = call("and", at, std::move(left), comparison(depth));
        return left;
    }
    Tree comparison(int depth) {
        Tree left = sum(depth);
        for (;;) {
            const std::size_t at = m_at + 1;
            // The longer ones first, since "<" begins "<=".
            if (take("<="))
                left = call("not", at, call("greater", at, std::move(left), sum(depth)));
            else if (take(">="))
                left = call("step", at, sum(depth), std::move(left));
            else if (take("=="))
                left = call("equal", at, std::move(left), sum(depth));
            else if (take("!="))
                left = call("not", at, call("equal", at, std::move(left), sum(depth)));
            else if (take(">"))
                left = call("greater", at, std::move(left), sum(depth));
            else if (take("<"))
                left = call("greater", at, sum(depth), std::move(left));
            else
                return left;
        }
    }
    Tree sum(int depth) {
        Tree left = product(depth);
        for (;;) {
            const std::size_t at = m_at + 1;
            if (take("+"))
                left = call("add", at, std::move(left), product(depth));
            else if (take("-"))
                left = call("subtract", at, std::move(left), product(depth));
            else
                return left;
        }
    }
    Tree product(int depth) {
        Tree left = sign(depth);
        for (;;) {
            const std::size_t at = m_at + 1;
            if (take("*"))
                left = call("multiply", at, std::move(left), sign(depth));
            else if (take("/"))
                left = call("divide", at, std::move(left), sign(depth));
            else if (take("%"))
                left = call("mod", at, std::move(left), sign(depth));
            else
                return left;
        }
    }
    Tree sign(int depth) {
        if (depth > kDeepest) stop("there are too many signs in a row");
        const std::size_t at = m_at + 1;
        if (take("-")) return call("negate", at, sign(depth + 1));
        if (take("+")) return sign(depth + 1);
        skip();
        if (m_at + 1 < m_text.size() && m_text[m_at] == '!' && m_text[m_at + 1] != '=') {
            ++m_at;
            return call("not", at, sign(depth + 1));
        }
        return power(depth);
    }
    /// To the right, and stronger than a sign before it: -2^2 is -4, 2^-1 is a half.
    Tree power(int depth) {
        Tree base = component(depth);
        const std::size_t at = m_at + 1;
        return take("^") ? call("pow", at, std::move(base), sign(depth + 1)) : std::move(base);
    }
    Tree component(int depth) {
        Tree of = value(depth);
        skip();
        while (m_at < m_text.size() && m_text[m_at] == '.') {
            const std::size_t at = ++m_at;
            const std::string name = word();
            if (name.size() != 1 || std::string("rgbahsv").find(name) == std::string::npos) {
                m_at = at;
                stop("a component is one of r, g, b, a, h, s and v");
            }
            auto node = std::make_unique<Node>();
            node->type = Node::Type::Component;
            node->name = name;
            node->at = at + 1;
            node->arguments.push_back(std::move(of));
            of = std::move(node);
            skip();
        }
        return of;
    }
    std::string word() {
        const std::size_t start = m_at;
        while (m_at < m_text.size() &&
               (std::isalnum(static_cast<unsigned char>(m_text[m_at])) != 0 || m_text[m_at] == '_'))
            ++m_at;
        return m_text.substr(start, m_at - start);
    }
    Tree value(int depth) {
        skip();
        if (m_at >= m_text.size()) stop("a value is missing at the end");
        const char c = m_text[m_at];
        if (take("(")) {
            Tree inner = choice(depth + 1);
            need(")");
            return inner;
        }
        if (std::isdigit(static_cast<unsigned char>(c)) != 0 || c == '.') return number();
        if (std::isalpha(static_cast<unsigned char>(c)) != 0) return name(depth);
        stop(fmt::format("\"{}\" does not belong here", c));
    }
    Tree number() {
        auto node = std::make_unique<Node>();
        node->at = m_at + 1;
        const char* const first = m_text.data() + m_at;
        const auto [end, error] = std::from_chars(first, m_text.data() + m_text.size(), node->value);
        if (error != std::errc() || end == first || !std::isfinite(node->value)) stop("this is not a number");
        m_at += static_cast<std::size_t>(end - first);
        return node;
    }
    Tree name(int depth) {
        const std::size_t at = m_at + 1;
        const std::string text = word();
        auto node = std::make_unique<Node>();
        node->at = at;
        node->name = text;
        if (text == "pi") {
            node->value = 3.14159265f;
            return node;
        }
        if (text == "in" || text == "u" ||
            (text.size() == 1 && std::string("abcdv").find(text) != std::string::npos)) {
            node->type = Node::Type::Variable;
            return node;
        }
        const int wanted = argumentsOf(text);
        if (wanted < 0) {
            m_at = at - 1;
            stop(fmt::format("\"{}\" is no function and no name; names are in, a, b, c, d, u, v and pi",
                             text));
        }
        node->type = Node::Type::Call;
        need("(");
        do node->arguments.push_back(choice(depth + 1));
        while (take(","));
        need(")");
        if (static_cast<int>(node->arguments.size()) != wanted) {
            m_at = at - 1;
            stop(fmt::format("{} takes {} values but has {}", text, wanted, node->arguments.size()));
        }
        return node;
    }

    const std::string& m_text;
    std::size_t m_at = 0;
};

}  // namespace

int argumentsOf(const std::string& function) {
    for (const Function& f : kFunctions)
        if (function == f.name) return f.arguments;
    return -1;
}

const std::vector<std::string>& functionList() {
    static const std::vector<std::string> list = [] {
        std::vector<std::string> forms;
        for (const Function& f : kFunctions) forms.emplace_back(f.form);
        return forms;
    }();
    return list;
}

Result<Tree> parse(const std::string& text) {
    try {
        return Parser(text).whole();
    } catch (const Problem& p) {
        return fail(ErrorKind::Invalid, fmt::format("At character {}: {}.", p.at, p.what));
    }
}

}  // namespace kettle::formula
