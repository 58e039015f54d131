#include "app/bringin/bring_row.h"

#include <QComboBox>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <string_view>

#include "app/bringin/quiet.h"
#include "app/style/labels.h"
#include "app/style/theme.h"
#include "app/style/word_search.h"
#include "core/colour/encoding.h"
#include "core/document/channels.h"
#include "core/document/project.h"
#include "core/exchange/map_words.h"

namespace kettle {
namespace {

/// Roles besides the known ones: not imported, a packed map, or a line of its own.
constexpr QLatin1String kLeftOut("out"), kPackedChoice("packed"), kOwnChoice("own");

struct RoleChoice {
    const char* id;
    QString words;
};
/// The channels, plus gloss and specular, which older workflows use in place of roughness and specular level.
const std::vector<RoleChoice>& roles() {
    static const std::vector<RoleChoice> list = [] {
        std::vector<RoleChoice> all;
        for (const ChannelSpec& channel : channels()) {
            all.push_back({channel.id, QString::fromLatin1(channel.name).toLower()});
            const std::string_view id = channel.id;
            if (id == channel::kRoughness) all.push_back({kGlossRole, QStringLiteral("gloss")});
            if (id == channel::kSpecularLevel) all.push_back({kSpecularRole, QStringLiteral("specular")});
        }
        return all;
    }();
    return list;
}
constexpr const char* kComponentLetters[] = {"R", "G", "B", "A"};

bool isOneOfTheTrade(const QString& role) {
    for (const RoleChoice& choice : roles())
        if (role == QLatin1String(choice.id)) return true;
    return false;
}

/// A role that is no channel's: the words of the file's name.
std::string ownWords(const PlannedMap& map) {
    std::string role;
    const std::string& from = map.channels.empty() ? map.name.pattern : map.channels + ".exr";
    for (const std::string& word : wordsOfName(from)) role += (role.empty() ? "" : "-") + word;
    return role.empty() || isOneOfTheTrade(QString::fromStdString(role)) ? role + "-map" : role;
}

}  // namespace

QComboBox* BringRow::field(QWidget* parent, const QString& name) {
    auto* box = new QComboBox(parent);
    searchByWords(*box);
    box->setAccessibleName(name);
    // A wheel over the list scrolls the list.
    box->setFocusPolicy(Qt::StrongFocus);
    return box;
}

BringRow::BringRow(PlannedMap& map, QGridLayout& grid, int row, QWidget* parent)
    : QObject(parent), m_map(map), m_recognised(map.name) {
    addFile(grid, row, parent);
    const QString file = nameWords();
    m_role = field(parent, tr("What %1 becomes").arg(file));
    m_role->setFixedWidth(136);
    for (const RoleChoice& choice : roles()) m_role->addItem(choice.words, QString::fromLatin1(choice.id));
    m_role->addItem(tr("packed map"), kPackedChoice);
    m_role->addItem(tr("a line of its own"), kOwnChoice);
    m_role->addItem(tr("left out"), kLeftOut);
    grid.addWidget(m_role, row, 2, Qt::AlignVCenter);

    m_components = new QWidget(parent);
    auto* stack = new QVBoxLayout(m_components);
    stack->setContentsMargins(0, 2, 0, 2);
    stack->setSpacing(2);
    m_reads = quiet({}, m_components);
    stack->addWidget(m_reads);
    m_order = new QLineEdit(m_components);
    m_order->setAccessibleName(tr("What the components of %1 hold").arg(file));
    m_order->setPlaceholderText(tr("e.g. gloss metal ao"));
    m_order->setToolTip(
        tr("A packed map: type what red, green and blue hold, in this order. A dash leaves one "
           "out."));
    m_order->installEventFilter(this);
    stack->addWidget(m_order);
    for (std::size_t c = 0; c < 4; ++c) {
        auto* box =
            field(m_components, tr("What %1 of %2 holds").arg(QLatin1String(kComponentLetters[c]), file));
        box->addItem(tr("%1 nothing").arg(QLatin1String(kComponentLetters[c])), QString());
        for (const RoleChoice& choice : roles())
            box->addItem(QStringLiteral("%1 %2").arg(QLatin1String(kComponentLetters[c]), choice.words),
                         QString::fromLatin1(choice.id));
        connect(box, &QComboBox::activated, this, [this, c, box] {
            m_map.name.components[c] = box->currentData().toString().toStdString();
            m_map.isChosen = true;
            refresh();
            Q_EMIT changed();
        });
        m_component.push_back(box);
        stack->addWidget(box);
    }
    m_components->setFixedWidth(146);
    grid.addWidget(m_components, row, 3, Qt::AlignVCenter);

    auto* reading = new QWidget(parent);
    auto* readings = new QVBoxLayout(reading);
    readings->setContentsMargins(0, 2, 0, 2);
    readings->setSpacing(2);
    m_encoding = field(reading, tr("What %1 is read as").arg(file));
    m_encoding->addItem(tr("automatic"), QString::fromLatin1(encoding::kAuto));
    for (const char* name : {encoding::kSrgb, encoding::kRaw, encoding::kLinear, "ACEScg"})
        m_encoding->addItem(QString::fromLatin1(name), QString::fromLatin1(name));
    m_green = field(reading, tr("Green of %1").arg(file));
    m_green->addItem(tr("green up"), false);
    m_green->addItem(tr("green down"), true);
    readings->addWidget(m_encoding);
    readings->addWidget(m_green);
    reading->setFixedWidth(116);
    grid.addWidget(reading, row, 4, Qt::AlignVCenter);

    m_why = quiet({}, parent);
    m_why->setWordWrap(true);
    m_why->setTextFormat(Qt::RichText);
    grid.addWidget(m_why, row, 5, Qt::AlignVCenter);

    connect(m_role, &QComboBox::activated, this, [this] { becomes(m_role->currentData().toString()); });
    connect(m_encoding, &QComboBox::activated, this, [this] {
        m_map.encoding = m_encoding->currentData().toString().toStdString();
        Q_EMIT changed();
    });
    connect(m_green, &QComboBox::activated, this, [this] {
        m_map.name.greenDown = m_green->currentData().toBool();
        m_map.isChosen = true;
        Q_EMIT changed();
    });
    refresh();
}

void BringRow::addFile(QGridLayout& grid, int row, QWidget* parent) {
    auto* picture = new QLabel(parent);
    constexpr int kSide = PlannedMap::kPictureSide;
    if (!m_map.picture.empty())
        picture->setPixmap(QPixmap::fromImage(QImage(reinterpret_cast<const uchar*>(m_map.picture.data()),
                                                     kSide, kSide, kSide * 4, QImage::Format_RGB32)
                                                  .copy()));
    picture->setFixedSize(kSide, kSide);
    grid.addWidget(picture, row, 0, Qt::AlignVCenter);
    auto* about = new QWidget(parent);
    auto* lines = new QVBoxLayout(about);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(1);
    auto* file = new QLabel(about);
    file->setText(file->fontMetrics().elidedText(nameWords(), Qt::ElideMiddle, 228));
    file->setToolTip(QString::fromStdString((m_map.folder / m_map.name.pattern).string()));
    QStringList facts{tr("%1 × %2").arg(m_map.info.width).arg(m_map.info.height),
                      QString::fromLatin1(nameOf(m_map.info.depth))};
    if (m_map.tiles.size() > 1) facts.prepend(tr("%1 tiles of").arg(m_map.tiles.size()));
    if (!m_map.info.told.empty()) facts << QString::fromStdString(m_map.info.told);
    if (m_map.contents.isPlain && !m_map.contents.alphaSays)
        facts << tr("one value everywhere");
    else if (m_map.info.channels == 2 || m_map.info.channels == 4)
        facts << (m_map.contents.alphaSays ? tr("with alpha") : tr("alpha says nothing"));
    QString told = facts.join(QStringLiteral(" · "));
    told.replace(tr("tiles of · "), tr("tiles of "));
    auto* second = quiet(about->fontMetrics().elidedText(told, Qt::ElideRight, 228), about);
    second->setToolTip(told);
    lines->addWidget(file);
    lines->addWidget(second);
    about->setFixedWidth(232);
    grid.addWidget(about, row, 1, Qt::AlignVCenter);
}

QString BringRow::nameWords() const {
    const QString file = QString::fromStdString(m_map.name.pattern);
    return m_map.channels.empty() ? file : tr("%1 in %2").arg(QString::fromStdString(m_map.channels), file);
}

void BringRow::becomes(const QString& choice) {
    MapName& name = m_map.name;
    m_map.isTaken = choice != kLeftOut;
    m_map.isChosen = true;
    if (choice == kPackedChoice) {
        if (!name.isPacked())
            name.components = {channel::kOcclusion, channel::kRoughness, channel::kMetalness, ""};
        name.role = m_recognised.isPacked() ? m_recognised.role : "packed";
        name.isKnown = true;
    } else if (choice == kOwnChoice) {
        name.components = {};
        name.role = m_recognised.isKnown ? ownWords(m_map) : m_recognised.role;
        name.isKnown = false;
    } else if (isOneOfTheTrade(choice)) {
        name.components = {};
        name.role = choice.toStdString();
        name.isKnown = true;
    }
    name.isGuess = false;
    name.reason = m_map.isTaken ? tr("chosen by hand").toStdString() : std::string();
    m_map.warning.clear();
    refresh();
    Q_EMIT changed();
}

bool BringRow::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_order && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        // Enter is the field's: it must not reach the sheet, which would be done with it.
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            takeOrder();
            return true;
        }
    }
    return QObject::eventFilter(watched, event);
}

void BringRow::takeOrder() {
    const QString typed = m_order->text();
    const auto components = componentsOf(typed.toStdString());
    if (!components) {
        m_map.warning =
            tr("\"%1\" names no maps in the order red, green, blue. Type words such as gloss, metal, ao.")
                .arg(typed)
                .toStdString();
        return refresh();
    }
    m_map.name.components = *components;
    m_order->clear();
    becomes(kPackedChoice);
}

/// What the automatic encoding comes to: what the file says, else what such a map usually is.
QString BringRow::automaticWords() const {
    const bool isColour = m_map.name.role == channel::kBaseColour || m_map.name.role == channel::kEmission ||
                          m_map.name.role == kSpecularRole;
    if (!isColour || m_map.name.isPacked()) return tr("auto: raw");
    if (m_map.info.tag == kOwnColours) return tr("auto: its own");
    if (!m_map.info.tag.empty()) return tr("auto: %1").arg(QString::fromStdString(m_map.info.tag));
    const bool isFloat = m_map.info.depth == Depth::Half || m_map.info.depth == Depth::Float;
    return isFloat ? tr("auto: linear") : tr("auto: sRGB");
}

void BringRow::refresh() {
    const MapName& name = m_map.name;
    const QString role = QString::fromStdString(name.role);
    const bool isPacked = m_map.isTaken && name.isPacked();
    const QString choice = !m_map.isTaken                          ? kLeftOut
                           : isPacked                              ? kPackedChoice
                           : name.isKnown && isOneOfTheTrade(role) ? role
                                                                   : kOwnChoice;
    m_role->setCurrentIndex(m_role->findData(choice));
    const bool isColour = choice == QLatin1String(channel::kBaseColour) ||
                          choice == QLatin1String(channel::kEmission) ||
                          choice == QLatin1String(kSpecularRole) || choice == QLatin1String(channel::kNormal);
    m_reads->setText(!m_map.isTaken                                     ? QString()
                     : isColour                                         ? tr("all components")
                     : choice == QLatin1String(kGlossRole)              ? tr("grey, inverted")
                     : choice == kOwnChoice && m_map.contents.alphaSays ? tr("alpha")
                                                                        : tr("grey"));
    m_reads->setVisible(!isPacked);
    // A picture whose name says nothing may be one, too, even if it is left out so far.
    const bool maybe = (!name.isKnown || name.isGuess) && m_map.info.channels >= 3 && m_map.channels.empty();
    m_order->setVisible(isPacked || maybe);
    for (std::size_t c = 0; c < m_component.size(); ++c) {
        const bool has = static_cast<int>(c) < m_map.info.channels;
        m_component[c]->setVisible(isPacked && has &&
                                   (c < 3 || !name.components[3].empty() || m_map.contents.alphaSays));
        const int at = m_component[c]->findData(QString::fromStdString(name.components[c]));
        m_component[c]->setCurrentIndex(std::max(0, at));
    }
    m_encoding->setItemText(0, automaticWords());
    m_encoding->setCurrentIndex(std::max(0, m_encoding->findData(QString::fromStdString(m_map.encoding))));
    m_encoding->setEnabled(m_map.isTaken);
    m_green->setVisible(choice == QLatin1String(channel::kNormal));
    m_green->setCurrentIndex(name.greenDown ? 1 : 0);
    const QString amber =
        theme::themed(QStringLiteral("<span style='color:#9C5500;font-weight:600'>%1</span>"));
    QString why = QString::fromStdString(name.reason).toHtmlEscaped();
    if (name.isGuess && m_map.isTaken) why = amber.arg(tr("guess")) + QStringLiteral(" · ") + why;
    if (!m_map.warning.empty())
        why = amber.arg(QStringLiteral("!")) + QLatin1Char(' ') +
              theme::breakable(QString::fromStdString(m_map.warning)).toHtmlEscaped();
    if (!m_map.isTaken && m_map.warning.empty() && !m_map.channels.empty())
        why = tr("the file holds it beside its colours");
    if (why.isEmpty() && m_map.isTaken && !name.isKnown)
        why = tr("no word for a map in its name: it waits as a line of its own");
    m_why->setText(why);
}

}  // namespace kettle
