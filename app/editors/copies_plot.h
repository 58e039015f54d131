// Where the copies land: every object of the model on a dial of hue and saturation, or for greys along a
// track, and all of them in their colours as a strip.
#pragma once

#include <QWidget>
#include <memory>

#include "app/pictures/picture_service.h"

namespace kettle {

class CopiesPlot final : public QWidget {
    Q_OBJECT

public:
    explicit CopiesPlot(QWidget* parent = nullptr);
    void setObjects(std::shared_ptr<const ObjectColours> objects);
    QSize sizeHint() const override { return {200, kDial + 8}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    static constexpr int kDial = 132;
    void paintDial(QPainter& p) const;
    void paintTrack(QPainter& p) const;
    std::shared_ptr<const ObjectColours> m_objects;
};

class CopiesStrip final : public QWidget {
    Q_OBJECT

public:
    explicit CopiesStrip(QWidget* parent = nullptr);
    /// `numbers`: what each object bears, for the tips.
    void setObjects(std::shared_ptr<const ObjectColours> objects, std::vector<int> numbers);
    void setChosen(std::set<std::string> names);
    /// Where an object's cell is, in pixels; for the pointer and for tests.
    QRect rectOf(std::size_t index) const;
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override { return {200, heightForWidth(200)}; }

Q_SIGNALS:
    /// `more`: beside what is chosen.
    void chosen(const QString& object, bool more);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;

private:
    int columns(int width) const;
    int cell() const;
    int indexAt(QPoint at) const;
    std::shared_ptr<const ObjectColours> m_objects;
    std::vector<int> m_numbers;
    std::set<std::string> m_chosen;
};

}  // namespace kettle
