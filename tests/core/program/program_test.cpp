#include "core/program/program.h"

#include <QtTest>

using namespace kettle;

namespace {

void add(const KernelCall& k) {
    for (std::size_t i = 0; i < k.count; ++i) k.out[0][i] = k.in[0][i] + k.in[1][i];
}
void split(const KernelCall& k) {
    for (std::size_t i = 0; i < k.count; ++i) {
        k.out[0][i] = k.in[0][i] * k.params[0];
        k.out[1][i] = -k.in[0][i];
    }
}
const Op kAdd{"add", add}, kSplit{"split", split};
const SourceKey kMap{MapSource{"set", "base-colour"}}, kOther{MapSource{"set", "gloss"}};

}  // namespace

class ProgramTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void equalInstructionsAreShared() {
        ProgramBuilder b;
        const Reg x = b.source(kMap, 0), y = b.source(kMap, 1);
        QCOMPARE(b.emit(kAdd, {x, y}), b.emit(kAdd, {x, y}));
        QVERIFY(b.emit(kSplit, {x}, {2.0f}, 2) != b.emit(kSplit, {x}, {3.0f}, 2));
        QCOMPARE(b.source(kMap, 0), x);
        QVERIFY(b.source(kOther, 0) != x);
    }
    void constantsAreFolded() {
        ProgramBuilder b;
        const Reg sum = b.emit(kAdd, {b.constant(2), b.constant(3)});
        float value = 0;
        QVERIFY(b.isConstant(sum, &value));
        QCOMPARE(value, 5.0f);
        const Reg first = b.emit(kSplit, {b.constant(4)}, {0.5f}, 2);
        QVERIFY(b.isConstant(first, &value));
        QCOMPARE(value, 2.0f);
        QVERIFY(b.isConstant(first + 1, &value));
        QCOMPARE(value, -4.0f);
        QVERIFY(b.finish({sum}).code.empty());
    }
    void whatNobodyWantsIsDropped() {
        ProgramBuilder b;
        const Reg used = b.emit(kAdd, {b.source(kMap, 0), b.source(kMap, 1)});
        b.emit(kAdd,
               {b.source(kMap, 3), b.source(kOther, 0)});  // alpha and another map: nobody reads the sum
        const Program p = b.finish({used});
        QCOMPARE(p.code.size(), std::size_t{1});
        QCOMPARE(p.sources.size(), std::size_t{1});
        QCOMPARE(p.sourceRegs.size(), std::size_t{2});
        QCOMPARE(p.constants.size(), std::size_t{0});
    }
    void anInstructionReadsOnlyWhatWasWrittenBefore() {
        ProgramBuilder b;
        Reg r = b.source(kMap, 0);
        for (int i = 0; i < 20; ++i) r = b.emit(kAdd, {r, b.constant(static_cast<float>(i))});
        const Program p = b.finish({r, kNoReg, r});
        std::vector<bool> written(static_cast<std::size_t>(p.registerCount), false);
        for (const auto& c : p.constants) written[static_cast<std::size_t>(c.reg)] = true;
        for (const auto& s : p.sourceRegs) written[static_cast<std::size_t>(s.reg)] = true;
        for (const Instruction& i : p.code) {
            for (const Reg in : i.in) QVERIFY(written[static_cast<std::size_t>(in)]);
            for (const Reg out : i.out) {
                QVERIFY(!written[static_cast<std::size_t>(out)]);
                written[static_cast<std::size_t>(out)] = true;
            }
        }
        QCOMPARE(p.outputs.size(), std::size_t{3});
        QCOMPARE(p.outputs[0], p.outputs[2]);
    }
    void slotsAreReused() {
        ProgramBuilder b;
        Reg r = b.source(kMap, 0);
        for (int i = 1; i <= 100; ++i) r = b.emit(kAdd, {r, b.constant(static_cast<float>(i))});
        QVERIFY(b.finish({r}).slotCount <= 2);  // a chain of a hundred needs no more than two blocks
    }
    void noTwoLiveRegistersShareASlot() {
        ProgramBuilder b;
        std::vector<Reg> values;
        for (int i = 0; i < 8; ++i)
            values.push_back(b.emit(kAdd, {b.source(kMap, i % 4), b.constant(static_cast<float>(i + 1))}));
        Reg sum = values[0];
        for (const Reg v : values) sum = b.emit(kAdd, {sum, v});
        const Program p = b.finish({sum});
        std::vector<int> lastUse(static_cast<std::size_t>(p.registerCount), -1);
        for (std::size_t i = 0; i < p.code.size(); ++i)
            for (const Reg in : p.code[i].in) lastUse[static_cast<std::size_t>(in)] = static_cast<int>(i);
        std::vector<std::pair<int, Reg>> owner(static_cast<std::size_t>(p.slotCount), {-1, kNoReg});
        for (std::size_t i = 0; i < p.code.size(); ++i)
            for (const Reg out : p.code[i].out) {
                const int slot = p.slotOf[static_cast<std::size_t>(out)];
                if (slot < 0) continue;
                QVERIFY(owner[static_cast<std::size_t>(slot)].first < static_cast<int>(i));
                owner[static_cast<std::size_t>(slot)] = {lastUse[static_cast<std::size_t>(out)], out};
            }
    }
    void theListingNamesEverything() {
        ProgramBuilder b;
        const Program p = b.finish({b.emit(kAdd, {b.source(kMap, 0), b.constant(1)})});
        const QString text = QString::fromStdString(p.listing());
        QVERIFY(text.contains(QStringLiteral("sample set/base-colour component 0")));
        QVERIFY(text.contains(QStringLiteral("add(")));
    }
};

QTEST_APPLESS_MAIN(ProgramTest)
#include "program_test.moc"
