// The finder: type to filter the steps that fit a gap, one line of purpose each, recent first.
#pragma once

#include <QFrame>
#include <QStringList>

#include "core/document/project.h"
#include "core/steps/catalogue.h"

class QLineEdit;
class QListWidget;

namespace kettle {

class Finder final : public QFrame {
    Q_OBJECT

public:
    Finder(Catalogue steps, QWidget* parent);
    void openFor(const QString& line, int index, Kind kind, QPoint globalPos);

    /// Types of steps, the last used first.
    const QStringList& recent() const { return m_recent; }
    void setRecent(const QStringList& types) { m_recent = types; }

Q_SIGNALS:
    void chosen(const QString& line, int index, const QString& type);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void accept();

    Catalogue m_steps;
    QLineEdit* m_filter;
    QListWidget* m_list;
    QString m_line;
    int m_index = 0;
    Kind m_kind = Kind::Colour;
    QStringList m_recent;
};

}  // namespace kettle
