// The session and candidates: one is taken, or several are kept as looks.
#include "app/session/session.h"
#include "core/document/edits.h"

namespace kettle {
namespace {

QString wordsOf(const Candidate& candidate) {
    QStringList words;
    for (const std::string& one : candidate.words) words << QString::fromStdString(one);
    return words.join(QStringLiteral(", "));
}

}  // namespace

bool Session::takeCandidate(const Candidate& candidate) {
    const Target to = target();
    return applyTo(to, withCandidate(to.project, to.look, candidate), tr("Take %1").arg(wordsOf(candidate)));
}

bool Session::keepCandidates(const std::vector<Candidate>& candidates) {
    if (candidates.empty()) return false;
    const Look* now = project().findLook(m_look);
    Result<Project> next = project();
    for (const Candidate& candidate : candidates) {
        const std::string id = edits::freshId(*next, "look");
        const QString name = now != nullptr
                                 ? tr("%1, %2").arg(QString::fromStdString(now->name), wordsOf(candidate))
                                 : wordsOf(candidate);
        next = edits::addLook(*next, id, name.toStdString(), m_look);
        if (next) next = withCandidate(*next, id, candidate);
        if (!next) break;
    }
    const bool isOne = candidates.size() == 1;
    if (!apply(std::move(next), isOne ? tr("Keep as look") : tr("Keep %1 looks").arg(candidates.size())))
        return false;
    Q_EMIT told(isOne ? tr("Kept as a look: %1.").arg(wordsOf(candidates.front()))
                      : tr("%1 looks are kept. Ctrl+Z takes them back.").arg(candidates.size()),
                false);
    return true;
}

}  // namespace kettle
