// What has to be painted again when pictures or words of a few cards are others: under the hand that happens
// many times a second.
#include <algorithm>
#include <cstring>
#include <map>
#include <utility>

#include "app/board/board_view.h"

namespace kettle {

using namespace board;

namespace {

/// Rings, outlines and marks go so far beyond a place.
constexpr int kBeyond = 6;

bool isSame(const QImage& a, const QImage& b) {
    if (a.constBits() == b.constBits()) return true;
    return a.size() == b.size() && a.format() == b.format() && a.bytesPerLine() == b.bytesPerLine() &&
           std::memcmp(a.constBits(), b.constBits(), static_cast<std::size_t>(a.sizeInBytes())) == 0;
}

bool isSame(const CardPicture& a, const CardPicture& b) {
    return a.noEffect == b.noEffect && a.ribbon() == b.ribbon() && isSame(a.thumbnail, b.thumbnail);
}

/// The same steps, warnings and encodings, which stand on heads and on other cards too. Of very many it is
/// not asked: of those a window shows few.
bool speakAlike(const CardPictures& a, const CardPictures& b) {
    constexpr std::size_t kMany = 1000;
    return a.size() < kMany &&
           std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const auto& x, const auto& y) {
               return x.first == y.first && x.second.warning == y.second.warning &&
                      x.second.encoding == y.second.encoding;
           });
}

}  // namespace

std::vector<std::pair<std::string, QRect>> BoardView::picturesInView() const {
    const QRect view = visibleRegion().boundingRect();
    const QRect seen(toBoard(view.topLeft()), toBoard(view.bottomRight()));
    std::vector<std::pair<std::string, QRect>> all;
    const auto add = [&](const std::string& step, const QRect& place) {
        if (seen.intersects(place)) all.emplace_back(step, place);
    };
    for (const CardPlace& c : m_layout.cards) {
        if (!seen.intersects(c.rect)) continue;
        const auto fill = c.isFill ? m_session.shownStep(c.step) : std::nullopt;
        if (fill) add(laidBy(*fill), c.rect);
        add(c.step, c.rect);
    }
    for (const RibbonPlace& r : m_layout.ribbons) add(r.step, r.rect);
    for (const ElbowPlace& e : m_layout.elbows)
        add(e.step, QRect(e.from, e.to).normalized().adjusted(-kBeyond, -kBeyond, kBeyond, kBeyond));
    for (const CapPlace& c : m_layout.caps) add(c.step, capShown(c));
    return all;
}

void BoardView::updatePlaces(const std::vector<QRect>& places) {
    QRegion changed;
    for (const QRect& place : places)
        changed += toPixels(place.adjusted(-kBeyond, -kBeyond, kBeyond, kBeyond));
    update(changed);
}

void BoardView::updateSteps(const std::set<std::string>& steps) {
    if (m_slide->state() == QAbstractAnimation::Running) return update();
    std::vector<QRect> places;
    for (const CardPlace& c : m_layout.cards)
        if (steps.contains(c.step)) places.push_back(c.rect);
    updatePlaces(places);
}

void BoardView::setPictures(std::shared_ptr<const CardPictures> pictures) {
    const std::shared_ptr<const CardPictures> before = std::exchange(m_pictures, std::move(pictures));
    if (before == nullptr || m_drag || m_slide->state() == QAbstractAnimation::Running ||
        !speakAlike(*before, *m_pictures))
        return update();
    std::map<std::string, bool> known;
    const auto isOther = [&](const std::string& step) {
        const auto [at, isNew] = known.try_emplace(step, false);
        const CardPicture *old = before->find(step), *now = m_pictures->find(step);
        if (isNew && now != nullptr) at->second = !isSame(*old, *now);
        return at->second;
    };
    std::vector<QRect> places;
    for (const auto& [step, place] : picturesInView())
        if (isOther(step)) places.push_back(place);
    updatePlaces(places);
}

}  // namespace kettle
