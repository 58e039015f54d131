// The ground floor: whole files, shared values, planes and hashing.

#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <csignal>
#include <cstdint>
#include <fstream>
#include <set>

#include "core/base/by_name.h"
#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/memory.h"
#include "core/base/name_index.h"
#include "core/base/plane.h"
#include "core/base/shared.h"

using namespace kettle;
namespace fs = std::filesystem;

class BaseTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_folder;
    fs::path at(const char* name) const { return fs::path(m_folder.path().toStdString()) / name; }
    std::size_t filesIn(const fs::path& folder) const {
        return static_cast<std::size_t>(
            std::distance(fs::directory_iterator(folder), fs::directory_iterator()));
    }

private Q_SLOTS:
    void namesHaveTheirNumbers() {
        std::vector<std::string> names;
        for (int i = 0; i < 1000; ++i) names.push_back("s" + std::to_string(i));
        NameIndex index(names.size());
        for (std::size_t i = 0; i < names.size() - 1; ++i) index.add(names[i], 7 * i);
        index.add(names[3], 5);  // the first stays
        for (std::size_t i = 0; i < names.size() - 1; ++i)
            QCOMPARE(index.find("s" + std::to_string(i)), 7 * i);
        QCOMPARE(index.find("s999"), NameIndex::kNone);
        QCOMPARE(index.find(""), NameIndex::kNone);
        QCOMPARE(NameIndex(0).find("s1"), NameIndex::kNone);
    }
    void valuesAreFoundByTheirNames() {
        std::vector<ByName<int>::Entry> entries;
        for (int i = 0; i < 1000; ++i) entries.emplace_back("s" + std::to_string(999 - i), i);
        entries.emplace_back("s7", -1);  // the first is found
        ByName<int> made(std::move(entries));
        ByName<int> values = std::move(made);  // short names move with it
        QCOMPARE(values.size(), std::size_t{1001});
        for (int i = 0; i < 1000; ++i) QCOMPARE(values.at("s" + std::to_string(i)), 999 - i);
        QCOMPARE(values.begin()->first, std::string("s999"));
        QVERIFY(values.find("s1000") == nullptr && values.find("") == nullptr);
        QVERIFY_EXCEPTION_THROWN(static_cast<void>(values.at("s1000")), std::out_of_range);
        *values.find("s3") = 5;
        QCOMPARE(values.at("s3"), 5);
        QVERIFY(ByName<int>().empty() && ByName<int>().find("s1") == nullptr);
        QCOMPARE(std::move(values).release().back(), ByName<int>::Entry("s7", -1));
    }
    void whatIsWrittenIsReadByteForByte() {
        std::string bytes = "line\r\nline\n";
        bytes.push_back('\0');
        for (int i = 0; i < 256; ++i) bytes.push_back(static_cast<char>(i));
        QVERIFY(writeFileAtomically(at("bytes"), bytes));
        QCOMPARE(*readFile(at("bytes")), bytes);
        QVERIFY(writeFileAtomically(at("bytes"), ""));
        QVERIFY(readFile(at("bytes"))->empty());
    }
    void readingWhatIsNotThereIsASentence() {
        const auto missing = readFile(at("nowhere"));
        QVERIFY(!missing && missing.error().kind == ErrorKind::Missing);
        QVERIFY(missing.error().sentence.find("nowhere") != std::string::npos);
        const auto folder = readFile(m_folder.path().toStdString());
        QVERIFY(!folder && folder.error().kind == ErrorKind::Unreadable);
    }
    void aLinkStaysALinkAndPermissionsStay() {
        const fs::path folder = at("links");
        fs::create_directories(folder / "real");
        QVERIFY(writeFileAtomically(folder / "real/kettle", "old"));
        fs::permissions(folder / "real/kettle", fs::perms(0640));
        fs::create_symlink("real/kettle", folder / "link");
        fs::create_symlink(folder / "link", folder / "link of a link");
        QVERIFY(writeFileAtomically(folder / "link of a link", "new"));
        QVERIFY(fs::is_symlink(folder / "link") && fs::is_symlink(folder / "link of a link"));
        QCOMPARE(*readFile(folder / "real/kettle"), std::string("new"));
        QCOMPARE(fs::status(folder / "real/kettle").permissions(), fs::perms(0640));
        QCOMPARE(filesIn(folder / "real"), std::size_t{1});
    }
    void whatAKilledRunLeftGoesWithTheNextWrite() {
        const fs::path folder = at("killed");
        fs::create_directories(folder);
        // Killed while it writes a large file, by a system without nameless files as by this one.
        const pid_t child = fork();
        if (child == 0) {
            for (;;)
                static_cast<void>(writeFileAtomically(folder / "map", std::string(1 << 20, 'x')).has_value());
        }
        QVERIFY(QTest::qWaitFor([&] { return fs::exists(folder / "map"); }, 20000));
        QTest::qWait(40);
        kill(child, SIGKILL);
        int status = 0;
        waitpid(child, &status, 0);
        const std::string left = *readFile(folder / "map");
        QCOMPARE(left.size(), std::size_t{1} << 20);
        QVERIFY(writeFileAtomically(folder / "map", "new"));
        QCOMPARE(filesIn(folder), std::size_t{1});
    }
    void noRoomIsToldAndNothingIsLost() {
        const fs::path folder = at("small");
        fs::create_directories(folder);
        QVERIFY(writeFileAtomically(folder / "map", "old"));
        // No file may be longer than 1000 bytes now: what is longer is told as on a disk that is full.
        std::signal(SIGXFSZ, SIG_IGN);
        rlimit before{};
        QCOMPARE(getrlimit(RLIMIT_FSIZE, &before), 0);
        const rlimit small{1000, before.rlim_max};
        QCOMPARE(setrlimit(RLIMIT_FSIZE, &small), 0);
        const auto written = writeFileAtomically(folder / "map", std::string(5000, 'x'));
        QCOMPARE(setrlimit(RLIMIT_FSIZE, &before), 0);
        QVERIFY(!written && written.error().kind == ErrorKind::Write);
        QVERIFY(written.error().sentence.ends_with("map. The disk has no room; make some."));
        QCOMPARE(*readFile(folder / "map"), std::string("old"));
        QCOMPARE(filesIn(folder), std::size_t{1});
    }
    void onlyRegularFilesAreRead() {
        const fs::path pipe = at("pipe");
        QCOMPARE(mkfifo(pipe.c_str(), 0600), 0);
        const auto read = readFile(pipe);
        QVERIFY(!read && read.error().kind == ErrorKind::Unreadable);
        QVERIFY(read.error().sentence.ends_with("pipe is a pipe or a device, not a file. Name a file."));
        QVERIFY(!readFile("/dev/zero"));
        QVERIFY(writeFileAtomically(at("long"), std::string(1000, 'x')));
        QVERIFY(!readFile(at("long"), 999) && readFile(at("long"), 1000));
    }
    void aFileIsKnownByAllItsNames() {
        QVERIFY(writeFileAtomically(at("one"), "1"));
        fs::create_hard_link(at("one"), at("hard"));
        fs::create_symlink(at("one"), at("soft"));
        QVERIFY(writeFileAtomically(at("two"), "1"));
        QCOMPARE(identityOf(at("hard")) == identityOf(at("one")), true);
        QCOMPARE(identityOf(at("soft")) == identityOf(at("one")), true);
        QCOMPARE(identityOf(at("links/../one")) == identityOf(at("one")), true);
        QVERIFY(identityOf(at("two")) != identityOf(at("one")));
        QVERIFY(!identityOf(at("three")));
    }
    void whatIsThrownBecomesASentence() {
        const auto noRoom = guarded("fold a sail", []() -> Result<int> { throw std::bad_alloc(); });
        QCOMPARE(noRoom.error().kind, ErrorKind::NoMemory);
        QCOMPARE(
            noRoom.error().sentence,
            std::string("Cannot fold a sail: there is not enough memory. Close other programs, or ask for "
                        "less."));
        const auto thrown = guarded("fold a sail", []() -> Result<int> { throw std::runtime_error("torn"); });
        QCOMPARE(thrown.error().kind, ErrorKind::Library);
        QCOMPARE(thrown.error().detail, std::string("torn"));
        QCOMPARE(*guarded("fold a sail", []() -> Result<int> { return 3; }), 3);
    }
    void whatCannotFitIsRefusedBefore() {
        QVERIFY(needMemory(1 << 20, "fold", "Take a smaller one."));
        const auto no = needMemory(std::uint64_t{1} << 60, "fold a sail", "Take a smaller one.");
        QVERIFY(!no && no.error().kind == ErrorKind::NoMemory);
        QVERIFY(no.error().sentence.starts_with(
            "Cannot fold a sail: it needs about 1099511627777 MB of memory and "));
        QVERIFY(no.error().sentence.ends_with("MB are free. Take a smaller one."));
    }
    void aFolderThatIsNotThereCannotBeWrittenTo() {
        const auto failed = writeFileAtomically(at("no/such/folder/file"), "x");
        QVERIFY(!failed && failed.error().kind == ErrorKind::Write);
        QVERIFY(failed.error().sentence.ends_with('.'));
    }
    void aSharedValueIsCopiedWhenItIsEdited() {
        Shared<std::string> a(std::string("kettle")), b = a;
        QVERIFY(a.sameAs(b));
        b.edit() += "s";
        QCOMPARE(*a, std::string("kettle"));
        QCOMPARE(*b, std::string("kettles"));
        QVERIFY(!a.sameAs(b) && !(a == b));
        const std::string* held = &*b;
        b.edit() = "kettle";  // nobody else holds it: in place
        QCOMPARE(&*b, held);
        QVERIFY(a == b && !a.sameAs(b));
    }
    void planesAreAlignedPaddedAndCopiedOnDemand() {
        for (const std::size_t count : {std::size_t{0}, std::size_t{1}, std::size_t{511}, std::size_t{512},
                                        std::size_t{513}, std::size_t{700000}}) {
            Plane plane(count);
            QCOMPARE(plane.size(), count);
            QCOMPARE(plane.empty(), count == 0);
            QCOMPARE(reinterpret_cast<std::uintptr_t>(plane.data()) % 64, std::uintptr_t{0});
            const std::size_t padded = (count + Plane::kGranule - 1) / Plane::kGranule * Plane::kGranule;
            for (std::size_t i = count; i < padded; ++i) QCOMPARE(plane.data()[i], 0.0f);
            for (std::size_t i = 0; i < count; ++i) plane[i] = static_cast<float>(i);
            const Plane copy = plane.clone();
            if (count == 0) continue;
            plane[0] = -1;
            QCOMPARE(copy[0], 0.0f);
            QCOMPARE(copy[count - 1], count == 1 ? 0.0f : static_cast<float>(count - 1));
        }
    }
    void splitmixGivesItsPublishedNumbers() {
        // The reference generator, started at 1234567: its first values (its state grows by the golden
        // ratio).
        constexpr std::uint64_t kGolden = 0x9E3779B97F4A7C15ull;
        const std::uint64_t wanted[]{6457827717110365317ull, 3203168211198807973ull, 9817491932198370423ull,
                                     4593380528125082431ull, 16408922859458223821ull};
        std::uint64_t state = 1234567;
        for (const std::uint64_t w : wanted) {
            QCOMPARE(mixBits(state), w);
            state += kGolden;
        }
    }
    void hashesTellTextsApartAndFillTheUnit() {
        std::set<std::uint64_t> seen;
        for (int i = 0; i < 10000; ++i) seen.insert(hashText("part " + std::to_string(i)));
        QCOMPARE(seen.size(), std::size_t{10000});
        QVERIFY(combine(1, 2) != combine(2, 1));
        QCOMPARE(unitFloat(0), 0.0f);
        QVERIFY(unitFloat(~0ull) < 1.0f);
        double sum = 0;
        for (const std::uint64_t h : seen) sum += static_cast<double>(unitFloat(h));
        QVERIFY(std::fabs(sum / 10000 - 0.5) < 0.01);  // three and a half standard errors
    }
};

QTEST_GUILESS_MAIN(BaseTest)
#include "base_test.moc"
