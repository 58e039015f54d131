#pragma once
// Included by the files of a mutated copy alone: every mutant of the copy is in its libraries, and one at
// most is on.
#include <dlfcn.h>
#include <fcntl.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <mutex>
#include <string>
#include <vector>

namespace kettle::mutants {

// KETTLE_MUTANT: the number of the mutant that is on. KETTLE_REACHED: a file to which each test function
// appends, once, the number of every mutant whose code it runs; child processes of a test append to the same
// file, without a function's name.
class Switch {
public:
    static Switch& instance() {
        static Switch one;
        return one;
    }
    bool on(int number) {
        if (m_file >= 0) record(number);
        return number == m_active;
    }

private:
    using NameOfTest = const char* (*)();
    Switch() {
        if (const char* active = std::getenv("KETTLE_MUTANT")) m_active = std::atoi(active);
        const char* path = std::getenv("KETTLE_REACHED");
        if (!path) return;
        m_test = reinterpret_cast<NameOfTest>(dlsym(RTLD_DEFAULT, "_ZN5QTest19currentTestFunctionEv"));
        m_file = open(path, O_WRONLY | O_CREAT | O_APPEND | O_CLOEXEC, 0644);
    }
    void record(int number) {
        const char* test = m_test ? m_test() : nullptr;
        const std::lock_guard lock(m_mutex);
        if (std::strcmp(m_name.c_str(), test ? test : "") != 0) {
            m_name = test ? test : "";
            m_reached.clear();
        }
        const auto at = static_cast<std::size_t>(number);
        if (m_reached.size() <= at) m_reached.resize(at + 1);
        if (m_reached[at]) return;
        m_reached[at] = true;
        const std::string line = std::to_string(number) + " " + (m_name.empty() ? "-" : m_name) + "\n";
        if (write(m_file, line.data(), line.size()) < 0) std::perror("KETTLE_REACHED");
    }

    int m_active = -1, m_file = -1;
    NameOfTest m_test = nullptr;
    std::mutex m_mutex;
    std::string m_name;
    std::vector<bool> m_reached;
};

inline bool on(int number) {
    return Switch::instance().on(number);
}

}  // namespace kettle::mutants
