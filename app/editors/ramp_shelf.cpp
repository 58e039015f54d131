#include "app/editors/ramp_shelf.h"

#include <QApplication>
#include <QClipboard>
#include <QIcon>
#include <QMenu>
#include <QPainter>
#include <QStandardPaths>
#include <algorithm>

#include "app/editors/ramp_editor.h"
#include "app/style/theme.h"
#include "core/colour/encoding.h"
#include "core/exchange/library.h"
#include "core/exchange/palette.h"

namespace kettle {

RampShelf::RampShelf(bool isGrey, QObject* parent) : QObject(parent), m_isGrey(isGrey) {}

std::filesystem::path RampShelf::standardFolder() {
    return std::filesystem::path(
               QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString()) /
           "ramps";
}

QMenu* RampShelf::makeMenu(const std::vector<std::uint32_t>& tones, QWidget* parent) {
    auto* menu = new QMenu(parent);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const RampPreset& preset : rampPresets(m_isGrey))
        menu->addAction(pictureOf(preset.ramp), QString::fromStdString(preset.name), this,
                        [this, ramp = preset.ramp] { Q_EMIT taken(ramp); });
    menu->addSeparator();
    addOwn(*menu);
    if (!m_isGrey) addMade(*menu, tones);
    return menu;
}

void RampShelf::addOwn(QMenu& menu) {
    const KeptRamps kept = keptRamps(m_folder);
    for (const std::string& problem : kept.problems) Q_EMIT told(QString::fromStdString(problem), true);
    QMenu* forget = nullptr;
    for (const KeptRamp& own : kept.ramps) {
        if (m_isGrey && !isGrey(own.ramp)) continue;
        const QString name = QString::fromStdString(own.name);
        menu.addAction(pictureOf(own.ramp), name, this, [this, ramp = own.ramp] { Q_EMIT taken(ramp); });
        if (forget == nullptr) forget = new QMenu(tr("Forget"), &menu);
        forget->addAction(pictureOf(own.ramp), name, this, [this, own, name] {
            const auto done = forgetRamp(own);
            Q_EMIT told(done ? tr("The ramp %1 is no longer kept. Steps that use it keep theirs.").arg(name)
                             : QString::fromStdString(done.error().sentence),
                        !done);
        });
    }
    menu.addAction(tr("Keep this ramp…"), this, &RampShelf::keepAsked);
    if (forget != nullptr) menu.addMenu(forget);
}

void RampShelf::addMade(QMenu& menu, const std::vector<std::uint32_t>& tones) {
    menu.addSeparator();
    const auto copied = coloursIn(QApplication::clipboard()->text().toStdString());
    auto* paste = menu.addAction(
        copied.empty() ? tr("Copied colours (none are copied)") : tr("%1 copied colours").arg(copied.size()),
        this, [this, copied] { Q_EMIT taken(rampOfColours(copied)); });
    paste->setEnabled(!copied.empty());
    auto* held = menu.addAction(tr("Copied colours, as held stops"), this, [this, copied] {
        Palette palette;
        palette.colours = copied;
        Q_EMIT taken(rampOf(palette, true));
    });
    held->setEnabled(!copied.empty());
    auto* picture = menu.addAction(tr("The tones that come in"), this, [this, tones] {
        // Five of the ribbon's rows, dark to light: what the ribbon shows as a ramp.
        std::vector<Vec3> colours;
        for (int i = 4; i >= 0; --i) {
            const std::uint32_t c = tones[static_cast<std::size_t>(i) * (tones.size() - 1) / 4];
            colours.push_back({srgbTable()[c >> 16 & 255], srgbTable()[c >> 8 & 255], srgbTable()[c & 255]});
        }
        Q_EMIT taken(rampOfColours(colours));
    });
    picture->setEnabled(!tones.empty());
}

bool RampShelf::keep(const QString& name, const Ramp& ramp) {
    const auto done = keepRamp(m_folder, name.toStdString(), ramp);
    Q_EMIT told(done ? tr("The ramp %1 is kept. Take from… offers it in every project.").arg(name.trimmed())
                     : QString::fromStdString(done.error().sentence),
                !done);
    return done.has_value();
}

bool RampShelf::holds(const QString& name) const {
    const auto ramps = keptRamps(m_folder).ramps;
    return std::any_of(ramps.begin(), ramps.end(),
                       [&](const KeptRamp& r) { return r.name == name.trimmed().toStdString(); });
}

QIcon RampShelf::pictureOf(const Ramp& ramp) const {
    // Twice as fine, for screens that are.
    constexpr int kFine = 2, kSide = theme::kMenuPicture;
    QPixmap pixmap(QSize(kSide, kSide) * kFine);
    pixmap.setDevicePixelRatio(kFine);
    pixmap.fill(theme::kCard);
    QPainter p(&pixmap);
    const RampCurve curve = compileRamp(ramp);
    QPolygonF line;
    for (int i = 0; i <= kSide * kFine; ++i) {
        const double x = static_cast<double>(i) / kFine;
        const Vec3 at = rampAt(curve, static_cast<float>(x / kSide));
        line << QPointF(x, kSide * (1 - std::clamp(static_cast<double>(at.x), 0.0, 1.0)));
        if (!m_isGrey) p.fillRect(QRectF(x, 0, 1.0 / kFine, kSide), shownColour(at, false));
    }
    if (m_isGrey) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(theme::kInk, 1.5));
        p.drawPolyline(line);
        p.setRenderHint(QPainter::Antialiasing, false);
    }
    p.setPen(theme::kEdge);
    p.drawRect(QRect(0, 0, kSide - 1, kSide - 1));
    return QIcon(pixmap);
}

}  // namespace kettle
