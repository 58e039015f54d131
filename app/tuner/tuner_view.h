// The tuner: the chosen step's controls, made from its declaration, with the special editors where they help.
#pragma once

#include <QWidget>
#include <functional>
#include <memory>
#include <vector>

#include "app/pictures/picture_service.h"
#include "app/session/session.h"

class QVBoxLayout;
class QGridLayout;
class QLabel;
class QCheckBox;

namespace kettle {

class SpreadPlot;

class TunerView final : public QWidget {
    Q_OBJECT

public:
    TunerView(Session& session, QWidget* parent = nullptr);
    void setPictures(std::shared_ptr<const CardPictures> pictures);

private:
    void rebuild();
    void refresh();
    void addControl(QVBoxLayout& column, const StepSpec& spec, const ControlSpec& control, Kind kind);
    void addNumber(QGridLayout& row, const ControlSpec& control);
    void addChoice(QGridLayout& row, const StepSpec& spec, const ControlSpec& control);
    void addToggle(QGridLayout& row, const ControlSpec& control);
    void addRamp(QVBoxLayout& column, const ControlSpec& control, Kind kind);
    void addColour(QVBoxLayout& column, const ControlSpec& control);
    void addDial(QVBoxLayout& column);
    void addFeed(QVBoxLayout& column, const FeedSpec& feed, Kind kind);
    void addMapRows(QVBoxLayout& column);
    QWidget* makeResetDot(const ControlSpec& control, QWidget* parent);
    template <class Editor>
    void joinGesture(Editor* editor);
    void set(const std::string& control, ControlValue value, bool inGesture);
    const CardPicture* pictureOf(const std::string& step) const;
    std::optional<Spread> spreadIn() const;

    Session& m_session;
    std::shared_ptr<const CardPictures> m_pictures;
    QWidget* m_body = nullptr;
    std::string m_step, m_type;
    std::uint64_t m_gesture = 0;
    std::vector<std::function<void(const StepView&)>> m_refreshers;
    std::vector<std::function<void()>> m_spreadRefreshers;
};

}  // namespace kettle
