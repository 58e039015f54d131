#include "app/style/labels.h"

#include <QFontMetricsF>
#include <QHash>
#include <QPainter>
#include <QStaticText>
#include <cmath>

#include "app/style/theme.h"

namespace kettle::theme {
namespace {

constexpr qsizetype kMost = 4000;

struct Key {
    QString text;
    int pixels, width;
    bool heavy;
    bool operator==(const Key&) const = default;
};
size_t qHash(const Key& k, size_t seed = 0) {
    return qHashMulti(seed, k.text, k.pixels, k.width, k.heavy);
}

}  // namespace

void drawLabel(QPainter& p, const QRectF& room, const QString& text, int pixels, bool heavy) {
    if (text.isEmpty()) return;
    static QHash<Key, QStaticText> known;
    const Key key{text, pixels, static_cast<int>(room.width()), heavy};
    const QFont f = font(pixels, heavy);
    auto at = known.find(key);
    if (at == known.end()) {
        if (known.size() >= kMost) known.clear();
        QStaticText laid(QFontMetricsF(f).elidedText(text, Qt::ElideRight, room.width()));
        laid.setTextFormat(Qt::PlainText);
        laid.setPerformanceHint(QStaticText::AggressiveCaching);
        laid.prepare(p.transform(), f);
        at = known.insert(key, laid);
    }
    p.setFont(f);
    p.drawStaticText(QPointF(room.left(), std::round(room.center().y() - at->size().height() / 2)), *at);
}

double labelWidth(const QString& text, int pixels, bool heavy) {
    static QHash<Key, double> known;
    const Key key{text, pixels, 0, heavy};
    const auto at = known.constFind(key);
    if (at != known.constEnd()) return *at;
    if (known.size() >= kMost) known.clear();
    return *known.insert(key, QFontMetricsF(font(pixels, heavy)).horizontalAdvance(text));
}

QString breakable(const QString& words) {
    constexpr int kLongest = 20;
    const QChar kHere(0x200B);  // a space without width
    QString broken;
    int run = 0;
    for (const QChar c : words) {
        broken += c;
        run = c.isSpace() ? 0 : run + 1;
        const bool isJoint = c == QLatin1Char('/') || c == QLatin1Char('_') || c == QLatin1Char('-');
        if (run < kLongest && !(isJoint && run > 3)) continue;
        if (!c.isHighSurrogate()) broken += kHere, run = 0;
    }
    return broken;
}

}  // namespace kettle::theme
