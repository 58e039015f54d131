#include "core/steps/formula_parser.h"

#include <fmt/format.h>

#include <array>
#include <cctype>
#include <charconv>
#include <cmath>
#include <optional>
#include <string_view>

namespace kettle::formula {
namespace {

struct Function {
    const char* name;
    Operation operation;
    int arguments;
    const char* form;
};
constexpr std::array<Function, 28> kFunctions{{
    {"rgb", Special::Rgb, 3, "rgb(r, g, b)"},
    {"hsv", Special::Hsv, 3, "hsv(hue in degrees, s, v)"},
    {"lum", Special::Luminance, 1, "lum(colour)"},
    {"min", Arithmetic::Min, 2, "min(x, y)"},
    {"max", Arithmetic::Max, 2, "max(x, y)"},
    {"clamp", Arithmetic::Clamp, 3, "clamp(x, low, high)"},
    {"saturate", Arithmetic::Saturate, 1, "saturate(x)"},
    {"mix", Arithmetic::Mix, 3, "mix(x, y, amount)"},
    {"step", Arithmetic::Step, 2, "step(edge, x)"},
    {"smoothstep", Arithmetic::SmoothStep, 3, "smoothstep(low, high, x)"},
    {"smooth", Arithmetic::Smooth, 1, "smooth(x)"},
    {"abs", Arithmetic::Absolute, 1, "abs(x)"},
    {"sign", Arithmetic::Sign, 1, "sign(x)"},
    {"floor", Arithmetic::Floor, 1, "floor(x)"},
    {"ceil", Arithmetic::Ceiling, 1, "ceil(x)"},
    {"round", Arithmetic::Round, 1, "round(x)"},
    {"fract", Arithmetic::Fraction, 1, "fract(x)"},
    {"mod", Arithmetic::Modulo, 2, "mod(x, y)"},
    {"pow", Arithmetic::Power, 2, "pow(x, exponent)"},
    {"sqrt", Arithmetic::SquareRoot, 1, "sqrt(x)"},
    {"cbrt", Arithmetic::CubeRoot, 1, "cbrt(x)"},
    {"exp", Arithmetic::Exponential, 1, "exp(x)"},
    {"log", Arithmetic::Logarithm, 1, "log(x)"},
    {"sin", Arithmetic::Sine, 1, "sin(degrees)"},
    {"cos", Arithmetic::Cosine, 1, "cos(degrees)"},
    {"atan2", Arithmetic::ArcTangent, 2, "atan2(y, x)"},
    {"encode", Arithmetic::Encode, 1, "encode(linear)"},
    {"decode", Arithmetic::Decode, 1, "decode(encoded)"},
}};

const Function* functionCalled(std::string_view name) {
    for (const Function& f : kFunctions)
        if (name == f.name) return &f;
    return nullptr;
}

template <class T>
struct Named {
    const char* name;
    T value;
};
constexpr Named<Variable> kVariables[] = {{"in", Variable::In}, {"a", Variable::A}, {"b", Variable::B},
                                          {"c", Variable::C},   {"d", Variable::D}, {"u", Variable::U},
                                          {"v", Variable::V}};
constexpr Named<Part> kParts[] = {{"r", Part::Red},   {"g", Part::Green}, {"b", Part::Blue},
                                  {"a", Part::Alpha}, {"h", Part::Hue},   {"s", Part::Saturation},
                                  {"v", Part::Value}};
constexpr Named<float> kConstants[] = {{"pi", 3.14159265f}};

template <class T, std::size_t n>
std::optional<T> valueCalled(const Named<T> (&list)[n], std::string_view name) {
    for (const Named<T>& each : list)
        if (name == each.name) return each.value;
    return std::nullopt;
}

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
    Tree call(Operation operation, std::size_t at, Arguments... arguments) {
        auto node = std::make_unique<Node>();
        node->what = operation;
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
        return call(Arithmetic::Select, at, std::move(condition), std::move(yes), choice(depth + 1));
    }
    Tree either(int depth) {
        Tree left = both(depth);
        for (std::size_t at = m_at + 1; take("||"); at = m_at + 1)
            left = call(Special::Or, at, std::move(left), both(depth));
        return left;
    }
    Tree both(int depth) {
        Tree left = comparison(depth);
        for (std::size_t at = m_at + 1; take("&&"); at = m_at + 1)
            left = call(Special::And, at, std::move(left), comparison(depth));
        return left;
    }
    Tree comparison(int depth) {
        Tree left = sum(depth);
        for (;;) {
            const std::size_t at = m_at + 1;
            // The longer ones first, since "<" begins "<=".
            if (take("<="))
                left = call(Special::Not, at, call(Arithmetic::Greater, at, std::move(left), sum(depth)));
            else if (take(">="))
                left = call(Arithmetic::Step, at, sum(depth), std::move(left));
            else if (take("=="))
                left = call(Arithmetic::Equal, at, std::move(left), sum(depth));
            else if (take("!="))
                left = call(Special::Not, at, call(Arithmetic::Equal, at, std::move(left), sum(depth)));
            else if (take(">"))
                left = call(Arithmetic::Greater, at, std::move(left), sum(depth));
            else if (take("<"))
                left = call(Arithmetic::Greater, at, sum(depth), std::move(left));
            else
                return left;
        }
    }
    Tree sum(int depth) {
        Tree left = product(depth);
        for (;;) {
            const std::size_t at = m_at + 1;
            if (take("+"))
                left = call(Arithmetic::Add, at, std::move(left), product(depth));
            else if (take("-"))
                left = call(Arithmetic::Subtract, at, std::move(left), product(depth));
            else
                return left;
        }
    }
    Tree product(int depth) {
        Tree left = sign(depth);
        for (;;) {
            const std::size_t at = m_at + 1;
            if (take("*"))
                left = call(Arithmetic::Multiply, at, std::move(left), sign(depth));
            else if (take("/"))
                left = call(Arithmetic::Divide, at, std::move(left), sign(depth));
            else if (take("%"))
                left = call(Arithmetic::Modulo, at, std::move(left), sign(depth));
            else
                return left;
        }
    }
    Tree sign(int depth) {
        if (depth > kDeepest) stop("there are too many signs in a row");
        const std::size_t at = m_at + 1;
        if (take("-")) return call(Arithmetic::Negate, at, sign(depth + 1));
        if (take("+")) return sign(depth + 1);
        skip();
        if (m_at + 1 < m_text.size() && m_text[m_at] == '!' && m_text[m_at + 1] != '=') {
            ++m_at;
            return call(Special::Not, at, sign(depth + 1));
        }
        return power(depth);
    }
    /// To the right, and stronger than a sign before it: -2^2 is -4, 2^-1 is a half.
    Tree power(int depth) {
        Tree base = component(depth);
        const std::size_t at = m_at + 1;
        return take("^") ? call(Arithmetic::Power, at, std::move(base), sign(depth + 1)) : std::move(base);
    }
    Tree component(int depth) {
        Tree of = value(depth);
        skip();
        while (m_at < m_text.size() && m_text[m_at] == '.') {
            const std::size_t at = ++m_at;
            const auto part = valueCalled(kParts, word());
            if (!part) {
                m_at = at;
                stop("a component is one of r, g, b, a, h, s and v");
            }
            auto node = std::make_unique<Node>();
            node->what = *part;
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
        float value = 0;
        const auto [end, error] = std::from_chars(first, m_text.data() + m_text.size(), value);
        if (error != std::errc() || end == first || !std::isfinite(value)) stop("this is not a number");
        node->what = value;
        m_at += static_cast<std::size_t>(end - first);
        return node;
    }
    Tree name(int depth) {
        const std::size_t at = m_at + 1;
        const std::string text = word();
        auto node = std::make_unique<Node>();
        node->at = at;
        if (const auto number = valueCalled(kConstants, text)) {
            node->what = *number;
            return node;
        }
        if (const auto variable = valueCalled(kVariables, text)) {
            node->what = *variable;
            return node;
        }
        const Function* function = functionCalled(text);
        if (function == nullptr) {
            m_at = at - 1;
            stop(fmt::format("\"{}\" is no function and no name; names are in, a, b, c, d, u, v and pi",
                             text));
        }
        node->what = function->operation;
        need("(");
        do node->arguments.push_back(choice(depth + 1));
        while (take(","));
        need(")");
        if (static_cast<int>(node->arguments.size()) != function->arguments) {
            m_at = at - 1;
            stop(fmt::format("{} takes {} values but has {}", text, function->arguments,
                             node->arguments.size()));
        }
        return node;
    }

    const std::string& m_text;
    std::size_t m_at = 0;
};

}  // namespace

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
