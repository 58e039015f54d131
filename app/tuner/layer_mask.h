// The tuner's part for a layer's mask: its picture, how much it covers, what it can begin with, and the ways
// to look at the layer.
#pragma once

#include <QWidget>
#include <functional>
#include <string>

#include "app/pictures/picture_service.h"

class QLabel;
class QPushButton;
class QToolButton;

namespace kettle {

class Session;

class LayerMask final : public QWidget {
    Q_OBJECT

public:
    LayerMask(Session& session, std::string layer, QWidget* parent);
    void refresh();
    /// The picture of the layer's head; null: none yet.
    void setPicture(const CardPicture* picture);

Q_SIGNALS:
    /// A picture's file is wanted for the mask.
    void fileWanted();

private:
    void addSources(class QVBoxLayout& column);
    void addViews(class QVBoxLayout& column);
    void begin(const std::string& type);
    void fillPictureMenu(class QMenu& menu);
    void fillMoreMenu(class QMenu& menu);

    Session& m_session;
    std::string m_layer;
    QPushButton* m_picture;
    QLabel* m_covers;
    std::vector<std::pair<QToolButton*, int>> m_views;
    std::vector<std::pair<QPushButton*, std::string>> m_sources;
};

/// How much of the surface a mask covers, in percent: the mean of its spread.
int percentCovered(const Spread& mask);

}  // namespace kettle
