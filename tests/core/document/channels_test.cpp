// The table of channels: its rows are complete and do not contradict each other.
#include <QtTest>
#include <set>
#include <string>

#include "core/document/channels.h"
#include "core/exchange/map_words.h"

namespace kettle {

class ChannelsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void noTwoAreCalledAlike() {
        std::set<std::string> ids, words;
        std::string letters;
        for (const ChannelSpec& channel : channels()) {
            QVERIFY2(ids.insert(channel.id).second, channel.id);
            QVERIFY2(!channel.words.empty(), channel.id);
            for (const char* word : channel.words) QVERIFY2(words.insert(word).second, word);
            for (const char* c = channel.letters; *c != 0; ++c) {
                QVERIFY2(letters.find(*c) == std::string::npos, channel.id);
                letters += *c;
            }
            QCOMPARE(findRole(channel.words.front())->role, channel.id);
        }
    }
    void eachComponentOfATextureIsOneChannels() {
        std::set<std::pair<BakedTexture, int>> taken;
        for (const ChannelSpec& channel : channels()) {
            if (!channel.packing) continue;
            const int count = channel.kind == Kind::Scalar ? 1 : 3;
            for (int c = 0; c < count; ++c)
                QVERIFY2(taken.insert({channel.packing->texture, channel.packing->component + c}).second,
                         channel.id);
        }
    }
    /// glTF 2.0, 5.22: occlusion is red, roughness green, metalness blue of one texture.
    void theSurfaceIsPackedAsGltfHasIt() {
        const auto parts = partsOf(BakedTexture::Surface);
        QCOMPARE(parts.size(), std::size_t{3});
        QCOMPARE(std::string(parts[0].channel), std::string("occlusion"));
        QCOMPARE(std::string(parts[1].channel), std::string("roughness"));
        QCOMPARE(std::string(parts[2].channel), std::string("metalness"));
        QCOMPARE(parts[0].stored, 1.0f);
        // KHR_materials_specular: the level is the alpha, whose colour is not read.
        const auto specular = partsOf(BakedTexture::Specular);
        QCOMPARE(specular.size(), std::size_t{4});
        QCOMPARE(std::string(specular[3].channel), std::string("specular-level"));
        QCOMPARE(std::string(specular[0].channel), std::string());
        QCOMPARE(specular[0].stored, 1.0f);
        const auto base = partsOf(BakedTexture::Base);
        QVERIFY(base.size() == 4 && base[3].isOptional && !base[0].isOptional);
        QCOMPARE(std::string(base[1].component), std::string("green"));
    }
    /// The stored fallback is the encoded neutral value: colours display-encoded, normals in 0..1.
    void whatIsStoredIsTheNeutralValue() {
        for (const ChannelSpec& channel : channels()) {
            if (!channel.packing) continue;
            const double neutral = static_cast<double>(channel.neutral.x);
            const double stored = channel.kind == Kind::Colour && neutral > 0
                                      ? 1.055 * std::pow(neutral, 1 / 2.4) - 0.055
                                  : channel.kind == Kind::Normal ? neutral * 0.5 + 0.5
                                                                 : neutral;
            QVERIFY2(std::fabs(static_cast<double>(channel.packing->stored) - stored) < 0.001, channel.id);
        }
    }
    void onlyColoursAreReadAsColours() {
        for (const char* role : {"base-colour", "emission", "sheen-colour"})
            QVERIFY2(isColourRole(role), role);
        for (const char* role : {"roughness", "gloss", "normal", "height", "wear", "specular", ""})
            QVERIFY2(!isColourRole(role), role);
    }
    void whatIsBegunInALookIsSeen() {
        QCOMPARE(findChannel("coat")->start.x, 1.0f);
        QCOMPARE(findChannel("coat")->neutral.x, 0.0f);
        QCOMPARE(findChannel("sheen-colour")->start.x, 0.4f);
        QCOMPARE(findChannel("roughness")->start.x, 0.5f);
        QVERIFY(findChannel("no such") == nullptr);
    }
};

}  // namespace kettle

QTEST_APPLESS_MAIN(kettle::ChannelsTest)
#include "channels_test.moc"
