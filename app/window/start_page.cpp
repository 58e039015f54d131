#include "app/window/start_page.h"

#include <QDir>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/style/theme.h"
#include "app/window/window_memory.h"

namespace kettle {
namespace {

constexpr int kMostRecent = 4;
constexpr QSize kPicture(138, 92);

}  // namespace

StartPage::StartPage(QWidget* parent) : QWidget(parent), m_recent(new QGridLayout) {
    setObjectName(QStringLiteral("paper"));
    setAccessibleName(tr("Start"));
    auto* column = new QVBoxLayout(this);
    column->setSpacing(0);
    column->addStretch(3);
    auto* title = new QLabel(tr("Pale Kettle"), this);
    title->setFont(theme::font(26, true));
    title->setStyleSheet(QStringLiteral("font-size: 26px; font-weight: 600;"));
    column->addWidget(title, 0, Qt::AlignHCenter);
    auto* about =
        new QLabel(tr("Recolour and blend finished texture sets, and see them on a lit model."), this);
    about->setObjectName(QStringLiteral("quiet"));
    column->addSpacing(6);
    column->addWidget(about, 0, Qt::AlignHCenter);
    column->addSpacing(28);
    auto* ways = new QHBoxLayout;
    ways->setSpacing(16);
    ways->addStretch(1);
    auto* bring = way(tr("Bring in maps…"), tr("A folder of finished maps, with or without a model"));
    auto* open = way(tr("Open a project…"), tr("A .palekettle file"));
    auto* demo = way(tr("Try the ferry's kitchen"), tr("A kettle, tiles, rattan and a hull to play with"));
    for (QPushButton* button : {bring, open, demo}) ways->addWidget(button);
    ways->addStretch(1);
    column->addLayout(ways);
    connect(bring, &QPushButton::clicked, this, &StartPage::bringInWanted);
    connect(open, &QPushButton::clicked, this, &StartPage::openWanted);
    connect(demo, &QPushButton::clicked, this, &StartPage::demoWanted);
    column->addSpacing(32);
    m_recentBox = new QWidget(this);
    auto* recents = new QVBoxLayout(m_recentBox);
    recents->setContentsMargins(0, 0, 0, 0);
    recents->setSpacing(8);
    auto* last = new QLabel(tr("Open last"), m_recentBox);
    last->setFont(theme::font(12, true));
    recents->addWidget(last);
    m_recent->setSpacing(16);
    recents->addLayout(m_recent);
    column->addWidget(m_recentBox, 0, Qt::AlignHCenter);
    m_recentBox->hide();
    column->addStretch(3);
    auto* drop = new QLabel(tr("Or drop a folder, a model or a project anywhere in this window."), this);
    drop->setObjectName(QStringLiteral("quiet"));
    column->addWidget(drop, 0, Qt::AlignHCenter);
    column->addSpacing(24);
}

QPushButton* StartPage::way(const QString& title, const QString& about) {
    auto* button = new QPushButton(this);
    button->setFixedSize(208, 92);
    button->setAccessibleName(title);
    button->setAccessibleDescription(about);
    button->setCursor(Qt::PointingHandCursor);
    auto* column = new QVBoxLayout(button);
    column->setContentsMargins(16, 12, 16, 12);
    column->setSpacing(4);
    auto* name = new QLabel(title, button);
    name->setFont(theme::font(14, true));
    name->setStyleSheet(QStringLiteral("font-size: 14px; font-weight: 600;"));
    auto* words = new QLabel(about, button);
    words->setObjectName(QStringLiteral("quiet"));
    words->setWordWrap(true);
    for (QLabel* label : {name, words}) label->setAttribute(Qt::WA_TransparentForMouseEvents);
    column->addWidget(name);
    column->addWidget(words, 1, Qt::AlignTop);
    return button;
}

void StartPage::setMemory(const WindowMemory* memory) {
    while (QLayoutItem* item = m_recent->takeAt(0)) {
        if (QWidget* widget = item->widget()) widget->hide(), widget->deleteLater();
        delete item;
    }
    const QStringList files = memory != nullptr ? memory->projects() : QStringList();
    int column = 0;
    for (const QString& file : files) {
        if (column >= kMostRecent) break;
        const QFileInfo info(file);
        auto* tile = new QToolButton(m_recentBox);
        tile->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        tile->setIconSize(kPicture);
        tile->setFixedSize(160, 142);
        QPixmap picture(kPicture);
        picture.fill(theme::kHairline);
        if (const QImage kept(memory->pictureOf(file)); !kept.isNull())
            picture = QPixmap::fromImage(
                kept.scaled(kPicture, Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation)
                    .copy(QRect(QPoint(0, 0), kPicture)));
        tile->setIcon(picture);
        tile->setText(tile->fontMetrics().elidedText(info.completeBaseName(), Qt::ElideMiddle, 138));
        tile->setAccessibleName(
            tr("Open %1 in %2").arg(info.fileName(), QDir(info.absolutePath()).dirName()));
        tile->setToolTip(file);
        connect(tile, &QToolButton::clicked, this, [this, file] { Q_EMIT projectWanted(file); });
        m_recent->addWidget(tile, 0, column++);
    }
    m_recentBox->setVisible(column > 0);
}

}  // namespace kettle
