// The finder: type a few letters, Enter adds what is offered first.
#pragma once

#include <QFrame>

#include "app/board/finder_offers.h"

class QLineEdit;
class QListWidget;

namespace kettle {

class Finder final : public QFrame {
    Q_OBJECT

public:
    explicit Finder(QWidget* parent);
    void setLibrary(OfferedLibrary library) { m_library = std::move(library); }
    void openAt(Gap gap, QPoint globalPos);
    /// Where it was opened last.
    const Gap& gap() const { return m_gap; }

    /// Types of steps, the last used first.
    const QStringList& recent() const { return m_recent; }
    void setRecent(const QStringList& types) { m_recent = types; }

Q_SIGNALS:
    void chosen(const kettle::Offer& offer);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void accept();

    OfferedLibrary m_library;
    Gap m_gap;
    std::vector<Offer> m_offers;  ///< as the list's rows
    QLineEdit* m_filter;
    QListWidget* m_list;
    QStringList m_recent;
};

}  // namespace kettle
