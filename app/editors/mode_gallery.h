// The mode gallery: every blend mode as a small live picture of the step's own inputs, in groups. Click to
// choose.
#pragma once

#include <QImage>
#include <QWidget>
#include <map>
#include <memory>
#include <string>

namespace kettle {

class ModeGallery final : public QWidget {
    Q_OBJECT

public:
    explicit ModeGallery(QWidget* parent = nullptr);
    void setPictures(std::shared_ptr<const std::map<std::string, QImage>> pictures);
    void setMode(const std::string& mode);
    /// Where a mode's picture is, in pixels; for the pointer and for tests.
    QRect rectOf(const std::string& mode) const;
    QSize sizeHint() const override { return {260, m_height}; }

Q_SIGNALS:
    void chosen(const QString& mode);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Tile {
        std::string mode;
        QString name;
        QRect rect;
    };
    struct Group {
        QString name;
        int y;
    };
    void layOut();
    std::vector<Tile> m_tiles;
    std::vector<Group> m_groups;
    std::shared_ptr<const std::map<std::string, QImage>> m_pictures;
    std::string m_mode;
    int m_height = 100;
};

}  // namespace kettle
