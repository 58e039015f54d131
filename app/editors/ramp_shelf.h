// Where ramps come from and where they are kept: the shipped ones, the artist's own, copied colours, and the
// tones that come in.
#pragma once

#include <QObject>
#include <cstdint>
#include <filesystem>
#include <vector>

#include "core/exchange/kept_ramps.h"

class QIcon;
class QMenu;
class QWidget;

namespace kettle {

class RampShelf final : public QObject {
    Q_OBJECT

public:
    /// `isGrey`: for grey lines, which take grey ramps only.
    explicit RampShelf(bool isGrey, QObject* parent = nullptr);
    /// Where the artist's own ramps lie; at first the standard folder.
    void setFolder(std::filesystem::path folder) { m_folder = std::move(folder); }
    static std::filesystem::path standardFolder();

    /// Every ramp to be had, as pictures. `tones`: what comes in (0xAARRGGBB, light to dark), may be empty.
    /// Closing deletes it.
    QMenu* makeMenu(const std::vector<std::uint32_t>& tones, QWidget* parent);
    /// Keeps a ramp in the artist's folder, or tells why not.
    bool keep(const QString& name, const Ramp& ramp);
    /// True if a ramp of that name is kept already.
    bool holds(const QString& name) const;

Q_SIGNALS:
    void taken(const kettle::Ramp& ramp);
    void keepAsked();
    void told(const QString& sentence, bool isWarning);

private:
    void addOwn(QMenu& menu);
    void addMade(QMenu& menu, const std::vector<std::uint32_t>& tones);
    QIcon pictureOf(const Ramp& ramp) const;

    bool m_isGrey;
    std::filesystem::path m_folder = standardFolder();
};

}  // namespace kettle
