// What an empty window shows: the ways in, and the projects that were open last.
#pragma once

#include <QStringList>
#include <QWidget>

class QGridLayout;
class QPushButton;

namespace kettle {

class WindowMemory;

class StartPage final : public QWidget {
    Q_OBJECT

public:
    explicit StartPage(QWidget* parent);
    /// Fills in the projects of last time; null: none.
    void setMemory(const WindowMemory* memory);

Q_SIGNALS:
    void bringInWanted();
    void openWanted();
    void demoWanted();
    void projectWanted(const QString& file);

private:
    QPushButton* way(const QString& title, const QString& about);
    QGridLayout* m_recent;
    QWidget* m_recentBox;
};

}  // namespace kettle
