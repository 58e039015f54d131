// The picker of a feed: none, a constant, or any line of the project, at its end or after one of its steps.
#pragma once

#include <QIcon>
#include <QString>
#include <string>

#include "app/pictures/picture_service.h"
#include "core/document/project.h"

class QMenu;
class QWidget;

namespace kettle {

class Session;

/// A menu that deletes itself when it closes; `pictures` (may be null) show each line and tap. Choices that
/// would let a line feed itself are left out.
QMenu* makeFeedMenu(Session& session, const std::string& step, const std::string& feed, Kind wanted,
                    QWidget* parent, const CardPictures* pictures);

/// "Wear alpha", "Base colour after HSV shift", "a number"
QString feedWords(const Project& project, const Feed& feed, const Catalogue& steps = shippedSteps());

/// What a feed brings as a small picture; empty if there is none yet or it is a number. `pictures` may be
/// null.
QIcon feedIcon(const Project& project, const Feed& feed, const CardPictures* pictures);

}  // namespace kettle
