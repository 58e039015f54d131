#include "app/pictures/picture_service.h"

#include <pthread.h>

#include <algorithm>
#include <string_view>
#include <unordered_map>

#include "app/pictures/compared.h"

namespace kettle {
PictureService::PictureService(std::filesystem::path models, std::filesystem::path environments,
                               QObject* parent)
    : QObject(parent),
      m_scenes(std::make_shared<SceneStore>(std::move(models))),
      m_facts(std::make_shared<FactsStore>(m_scenes)),
      m_preview(m_scenes, environments),
      m_candidatesPreview(m_scenes, std::move(environments)) {
    m_loader = std::make_unique<ModelLoader>(m_scenes, [this](const auto& scene) {
        if (scene)
            Q_EMIT modelShapeReady(*scene);
        else
            Q_EMIT modelShapeFailed(QString::fromStdString(scene.error().sentence));
    });
    m_lookPainter = std::make_unique<BoardPictures>(92, 92, 1);
    m_thread = std::thread([this] { work(); });
    pthread_setname_np(m_thread.native_handle(), "pictures");
}

PictureService::~PictureService() {
    m_loader.reset();
    {
        const std::lock_guard lock(m_mutex);
        m_stop = true;
        m_fine.cancel();
        m_all.cancel();
        m_boardWork.cancel();
    }
    m_wake.notify_all();
    m_thread.join();
}

std::uint64_t PictureService::submit(const std::function<void(std::uint64_t)>& change, bool isUrgent) {
    std::uint64_t number = 0;
    {
        const std::lock_guard lock(m_mutex);
        number = ++m_numbers;
        change(number);
        // Coarse work is never stopped: it is short, and a hand that moves on would otherwise never see a
        // picture.
        if (isUrgent) {
            m_fine.cancel();
            m_fine = CancelToken();
            // A large board takes longer than a hand's step. It gives way, and is whole a few times a second.
            constexpr std::chrono::milliseconds kKeepsUp{300};
            if (std::chrono::steady_clock::now() - m_boardDone < kKeepsUp) {
                m_boardWork.cancel();
                m_boardWork = CancelToken();
            }
        }
    }
    m_wake.notify_all();
    return number;
}

std::uint64_t PictureService::askModel(PreviewRequest request, const Resources& resources, QImage still) {
    return submit([&](std::uint64_t number) {
        m_model = ModelAsked{{{}, {}, std::make_shared<const Resources>(resources.hurried()), number},
                             std::move(request),
                             0,
                             std::move(still)};
    });
}

std::uint64_t PictureService::askBoard(Project project, std::string look, const Resources& resources,
                                       double scale) {
    return submit([&](std::uint64_t number) {
        m_board = BoardAsked{{std::move(project), std::move(look),
                              std::make_shared<const Resources>(resources.hurried()), number},
                             scale};
    });
}

std::uint64_t PictureService::askFlat(Project project, std::string look, FlatRequest request,
                                      const Resources& resources, UvEdges edges,
                                      std::optional<FlatSide> other) {
    return submit([&](std::uint64_t number) {
        m_flat = FlatAsked{{std::move(project), std::move(look),
                            std::make_shared<const Resources>(resources.hurried()), number},
                           std::move(request),
                           std::move(edges),
                           std::move(other)};
    });
}

std::uint64_t PictureService::askLooks(Project project, const Resources& resources) {
    return submit([&](std::uint64_t number) {
        m_looks =
            Asked{std::move(project), {}, std::make_shared<const Resources>(resources.hurried()), number};
        m_nextLook = 0;
    });
}

void PictureService::askProbe(Project project, std::string look, std::string line, std::string step, double u,
                              double v, const Resources& resources) {
    submit(
        [&](std::uint64_t number) {
            m_probe = ProbeAsked{{std::move(project), std::move(look),
                                  std::make_shared<const Resources>(resources.hurried()), number},
                                 std::move(line),
                                 std::move(step),
                                 u,
                                 v};
        },
        false);
}

std::uint64_t PictureService::askModes(Project project, std::string look, std::string step,
                                       const Resources& resources) {
    return submit(
        [&](std::uint64_t number) {
            m_modes = ModesAsked{{std::move(project), std::move(look),
                                  std::make_shared<const Resources>(resources.hurried()), number},
                                 std::move(step)};
        },
        false);
}

std::uint64_t PictureService::askTransfer(Project project, std::string look, std::string step, QPointF place,
                                          const Resources& resources) {
    return submit(
        [&](std::uint64_t number) {
            m_transfer = TransferAsked{{std::move(project), std::move(look),
                                        std::make_shared<const Resources>(resources.hurried()), number},
                                       std::move(step),
                                       place};
        },
        false);
}

std::uint64_t PictureService::askColour(Project project, std::string look, std::string line,
                                        std::string after, Area area, const Resources& resources) {
    return submit(
        [&](std::uint64_t number) {
            m_colour = ColourAsked{{std::move(project), std::move(look),
                                    std::make_shared<const Resources>(resources.hurried()), number},
                                   std::move(line),
                                   std::move(after),
                                   area};
        },
        false);
}

std::uint64_t PictureService::askChecks(Project project, std::string look, const Resources& resources) {
    return submit(
        [&](std::uint64_t number) {
            m_checks = Asked{std::move(project), std::move(look),
                             std::make_shared<const Resources>(resources.hurried()), number};
        },
        false);
}

std::uint64_t PictureService::askMeasure(Project project, const Resources& resources, Measure measure) {
    return submit([&](std::uint64_t number) {
        m_measure = MeasureAsked{
            {std::move(project), {}, std::make_shared<const Resources>(resources.hurried()), number},
            std::move(measure)};
    });
}

std::uint64_t PictureService::askProbes(Project project, std::string look, std::string line, std::string step,
                                        std::vector<QPointF> places, const Resources& resources) {
    return submit(
        [&](std::uint64_t number) {
            m_probes = ProbesAsked{{std::move(project), std::move(look),
                                    std::make_shared<const Resources>(resources.hurried()), number},
                                   std::move(line),
                                   std::move(step),
                                   std::move(places)};
        },
        false);
}

void PictureService::askModelShape(std::string model, std::string unit) {
    m_loader->ask(std::move(model), std::move(unit));
}

bool PictureService::isIdle() const {
    const std::lock_guard lock(m_mutex);
    return m_loader->isIdle() && !m_busy && !m_model && !m_candidates && !m_board && !m_flat && !m_probe &&
           !m_looks && !m_modes && !m_measure && !m_probes && !m_transfer && !m_colour && !m_objects &&
           !m_copies && !m_tries && !m_checks && !m_warm;
}

void PictureService::work() {
    const GiveWay giveWay;
    std::unique_lock lock(m_mutex);
    while (!m_stop) {
        m_busy = true;
        bool worked = true;
        try {
            worked = workOnce(lock);
        } catch (...) {
            // What was asked for is out of its slot; the next request finds the thread alive.
            const Error error = errorOfException("make a picture");
            if (!lock.owns_lock()) lock.lock();
            m_model.reset();
            m_candidates.reset();
            m_looks.reset();
            m_tries.reset();
            lock.unlock();
            Q_EMIT failed(QString::fromStdString(error.sentence));
            lock.lock();
        }
        m_busy = false;
        if (!worked && !m_stop) m_wake.wait(lock);
    }
}

/// Takes a request out of its slot, if there is one, and works on it without the lock.
template <class A>
bool PictureService::serve(std::optional<A>& slot, void (PictureService::*make)(const A&),
                           std::unique_lock<std::mutex>& lock) {
    if (!slot) return false;
    const A asked = *std::exchange(slot, std::nullopt);
    lock.unlock();
    (this->*make)(asked);
    lock.lock();
    return true;
}

/// The same for what makes way for anything newer: it goes back into its slot then, unless a newer one of its
/// own sort stands there.
template <class A>
bool PictureService::serveInTheEnd(std::optional<A>& slot,
                                   void (PictureService::*make)(const A&, const CancelToken&),
                                   std::unique_lock<std::mutex>& lock) {
    if (!slot) return false;
    const A asked = *std::exchange(slot, std::nullopt);
    const CancelToken cancel = m_fine;
    lock.unlock();
    (this->*make)(asked, cancel);
    lock.lock();
    if (cancel.isCancelled() && !slot && !m_stop) slot = asked;
    return true;
}

bool PictureService::serveBoard(std::unique_lock<std::mutex>& lock) {
    if (!m_board) return false;
    const BoardAsked asked = *std::exchange(m_board, std::nullopt);
    const CancelToken cancel = m_boardWork;
    lock.unlock();
    makeBoard(asked, cancel);
    lock.lock();
    if (!cancel.isCancelled())
        m_boardDone = std::chrono::steady_clock::now();
    else if (!m_board && !m_stop)
        m_board = asked;
    return true;
}

/// The model's request stays in its slot until its last stage; makeModel moves it on.
bool PictureService::serveModel(bool isStopped, std::unique_lock<std::mutex>& lock) {
    const ModelAsked asked = *m_model;
    const CancelToken cancel = isStopped ? m_fine : CancelToken();
    lock.unlock();
    makeModel(asked, cancel);
    lock.lock();
    return true;
}

void PictureService::makeNextLook(std::unique_lock<std::mutex>& lock) {
    const Asked asked = *m_looks;
    const std::size_t index = m_nextLook++;
    if (index >= asked.project.looks.size()) m_looks.reset();
    lock.unlock();
    const std::string id = index == 0 ? std::string() : asked.project.looks[index - 1]->id;
    Q_EMIT lookReady(QString::fromStdString(id),
                     toImage(m_lookPainter->paintLook(asked.project, id, *asked.resources), 92, 92));
    lock.lock();
}

/// Takes the most urgent request, works on it without the lock, and returns with the lock held again.
bool PictureService::workOnce(std::unique_lock<std::mutex>& lock) {
    if (serve(m_probe, &PictureService::makeProbe, lock)) return true;
    if (serve(m_colour, &PictureService::makeColour, lock)) return true;
    if (serve(m_measure, &PictureService::makeMeasure, lock)) return true;
    if (m_model && m_model->stage == 0) return serveModel(false, lock);
    if (m_candidates && m_candidates->stage <= 1) return serveCandidates(false, lock);
    if (serveBoard(lock)) return true;
    if (serve(m_flat, &PictureService::makeFlat, lock)) return true;
    if (serve(m_transfer, &PictureService::makeTransfer, lock)) return true;
    if (serve(m_copies, &PictureService::makeObjects, lock)) return true;
    if (serve(m_objects, &PictureService::makeObjects, lock)) return true;
    if (serve(m_probes, &PictureService::makeProbes, lock)) return true;
    if (serve(m_modes, &PictureService::makeModes, lock)) return true;
    if (m_model && m_model->stage == 1) return serveModel(true, lock);
    if (m_looks) {
        makeNextLook(lock);
        return true;
    }
    if (m_tries) {
        makeNextTry(lock);
        return true;
    }
    if (serveInTheEnd(m_checks, &PictureService::makeChecks, lock)) return true;
    if (m_candidates) return serveCandidates(true, lock);
    if (m_model) return serveModel(true, lock);
    return serve(m_warm, &PictureService::makeWarm, lock);
}

void PictureService::warm(const Resources& resources) {
    submit(
        [&](std::uint64_t number) {
            m_warm = Asked{{}, {}, std::make_shared<const Resources>(resources), number};
        },
        false);
}

void PictureService::makeWarm(const Asked& asked) {
    PreviewRequest request;
    request.width = request.height = 48;
    static_cast<void>(
        m_preview.render(request, *asked.resources, 0, m_all));  // a problem is told when it matters
}

void PictureService::makeModel(const ModelAsked& asked, const CancelToken& cancel) {
    auto picture = m_preview.render(asked.request, *asked.resources, asked.stage, cancel);
    const bool cancelled = !picture && picture.error().kind == ErrorKind::Cancelled;
    {
        const std::lock_guard lock(m_mutex);
        if (m_model && m_model->number == asked.number) {
            if (cancelled) {
                // The mean of the fine passes cannot go on where it was: begin it again, behind the newer
                // requests.
                m_model->stage = 1;
            } else if (!picture || asked.stage == Preview::kLastStage) {
                m_model.reset();
            } else {
                m_model->stage = asked.stage + 1;
            }
        }
    }
    if (cancelled) return;
    if (!picture) {
        Q_EMIT modelFailed(asked.number, QString::fromStdString(picture.error().sentence));
        return;
    }
    const auto& problems = m_preview.problems();
    const QImage shown = toImage(picture->pixels, picture->width, picture->height);
    ComparedPtr apart;
    if (!m_preview.others().empty()) {
        const Picture& other = m_preview.others().front();
        const std::vector<std::uint8_t>& covered = m_preview.covered();
        apart = compared(shown, toImage(other.pixels, other.width, other.height), covered.data());
    } else if (!asked.still.isNull()) {
        apart = compared(shown, fittedInto(asked.still, shown.size()), nullptr);
    }
    Q_EMIT modelReady(asked.number, shown, asked.stage,
                      problems.empty() ? QString() : QString::fromStdString(problems.front()), apart);
}

/// A thumbnail where it lies, not copied.
static QImage imageOf(const std::shared_ptr<const ResultPictures>& result) {
    if (result->thumbnail.empty()) return {};
    using Held = std::shared_ptr<const ResultPictures>;
    return QImage(
        reinterpret_cast<const uchar*>(result->thumbnail.data()), result->width, result->height,
        result->width * 4, QImage::Format_RGB32, [](void* held) { delete static_cast<Held*>(held); },
        new Held(result));
}

void PictureService::makeBoard(const BoardAsked& asked, const CancelToken& cancel) {
    m_letGo.free();
    if (!m_boardPainter || m_boardScale != asked.scale) {
        m_boardPainter =
            std::make_unique<BoardPictures>(static_cast<int>(kThumbWidth * asked.scale),
                                            static_cast<int>(kThumbHeight * asked.scale), kRibbonRows);
        m_boardScale = asked.scale;
    }
    auto made = m_boardPainter->paint(asked.project, asked.look, *asked.resources, cancel);
    if (cancel.isCancelled()) return;
    std::unordered_map<const ResultPictures*, QImage> images;  // what steps share they share here too
    std::vector<CardPictures::Entry> cards;
    cards.reserve(made.size());
    for (auto& [step, picture] : std::move(made).release()) {
        QImage& image = images[picture.result.get()];
        if (image.isNull()) image = imageOf(picture.result);
        cards.emplace_back(std::move(step),
                           CardPicture{image, std::move(picture.result), std::move(picture.read),
                                       std::move(picture.noEffect), std::move(picture.warning),
                                       std::move(picture.encoding)});
    }
    Q_EMIT boardReady(asked.number, m_letGo.share(std::make_unique<CardPictures>(std::move(cards))));
}

void PictureService::makeFlat(const FlatAsked& asked) {
    const auto pixels =
        m_flatPainter.paint(asked.project, asked.look, asked.request, *asked.resources, m_all);
    if (m_all.isCancelled()) return;
    QImage picture = toImage(pixels, asked.request.width, asked.request.height);
    const auto stamps = std::make_shared<const std::vector<StampCorners>>(m_flatPainter.stamps());
    ComparedPtr apart;
    if (asked.other && !picture.isNull()) {
        const auto others = m_otherFlatPainter.paint(asked.other->project, asked.other->look, asked.request,
                                                     *asked.resources, m_all);
        if (m_all.isCancelled()) return;
        apart = compared(picture, toImage(others, asked.request.width, asked.request.height), nullptr);
    }
    if (asked.edges.scene && !picture.isNull()) paintEdges(picture, asked.request, asked.edges);
    Q_EMIT flatReady(asked.number, picture, apart, stamps);
}

void PictureService::makeModes(const ModesAsked& asked) {
    const auto made =
        paintModes(asked.project, asked.look, asked.step, kModeWidth, kModeHeight, *asked.resources);
    auto pictures = std::make_shared<std::map<std::string, QImage>>();
    for (const auto& [mode, pixels] : made) (*pictures)[mode] = toImage(pixels, kModeWidth, kModeHeight);
    Q_EMIT modesReady(asked.number, pictures);
}

void PictureService::makeMeasure(const MeasureAsked& asked) {
    const auto next = asked.measure(asked.project, *asked.resources);
    if (next)
        Q_EMIT measured(asked.number, *next);
    else
        Q_EMIT measureFailed(asked.number, QString::fromStdString(next.error().sentence));
}

}  // namespace kettle
