#include "core/colour/colour_management.h"

#include <OpenColorIO/OpenColorIO.h>
#include <fmt/format.h>

#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <map>
#include <mutex>
#include <sstream>

#include "core/colour/encoding.h"
#include "core/colour/shipped_config.h"

namespace ocio = OCIO_NAMESPACE;

namespace kettle {

namespace {

class Processor final : public ColourTransform {
public:
    explicit Processor(ocio::ConstCPUProcessorRcPtr cpu) : m_cpu(std::move(cpu)) {}
    void applyPlanes(const float* const in[3], float* const out[3], std::size_t count) const override {
        for (int c = 0; c < 3; ++c)
            if (in[c] != out[c]) std::memcpy(out[c], in[c], count * sizeof(float));
        ocio::PlanarImageDesc pixels(out[0], out[1], out[2], nullptr, static_cast<long>(count), 1);
        m_cpu->apply(pixels);
    }
    void applyPixels(float* rgb, std::size_t count) const override {
        ocio::PackedImageDesc pixels(rgb, static_cast<long>(count), 1, 3);
        m_cpu->apply(pixels);
    }

private:
    ocio::ConstCPUProcessorRcPtr m_cpu;
};

/// The library's own fast powers are good to about 1e-4, which shows in 16 bits; ours are computed in full.
constexpr auto kExact = ocio::OPTIMIZATION_LOSSLESS;

}  // namespace

struct ColourManagement::Impl {
    ocio::ConstConfigRcPtr config;
    /// A configuration of the artist's own may call our reference space by its role alone.
    std::string nameOf(const std::string& space) const {
        const bool known = config->getColorSpace(space.c_str()) != nullptr;
        return known || space != encoding::kLinear ? space : ocio::ROLE_SCENE_LINEAR;
    }
    mutable std::mutex mutex;
    mutable std::map<std::pair<std::string, std::string>, std::shared_ptr<const ColourTransform>> transforms;
};

const ColourManagement& ColourManagement::shipped() {
    static const ColourManagement colours = [] {
        auto impl = std::make_shared<Impl>();
        std::istringstream text{kShippedConfig};
        impl->config = ocio::Config::CreateFromStream(text);
        return ColourManagement(std::move(impl));
    }();
    return colours;
}

ColourManagement ColourManagement::chosen(const std::string& configuration, const std::string& folder,
                                          std::string& problem) {
    auto colours =
        configuration.empty()
            ? fromEnvironment()
            : fromFile((std::filesystem::path(folder) / configuration).lexically_normal().string());
    if (colours) return *colours;
    problem = colours.error().sentence + " The shipped one is used.";
    return shipped();
}

std::shared_ptr<const ColourTransform> ColourManagement::transform(const std::string& from,
                                                                   const std::string& to) const {
    if (from == to || from == encoding::kRaw || to == encoding::kRaw || !knows(from) || !knows(to))
        return nullptr;
    const std::lock_guard lock(m_impl->mutex);
    auto& known = m_impl->transforms[{from, to}];
    if (known == nullptr) {
        try {
            const auto processor =
                m_impl->config->getProcessor(m_impl->nameOf(from).c_str(), m_impl->nameOf(to).c_str());
            if (processor->isNoOp()) return nullptr;
            known = std::make_shared<Processor>(
                processor->getOptimizedCPUProcessor(ocio::BIT_DEPTH_F32, ocio::BIT_DEPTH_F32, kExact));
        } catch (const ocio::Exception&) {
            return nullptr;  // the spaces are known, but the configuration joins them by no transform
        }
    }
    return known;
}

std::string ColourManagement::identity() const {
    return m_impl->config->getCacheID();
}

std::vector<std::string> ColourManagement::views() const {
    std::vector<std::string> names;
    const char* display = m_impl->config->getDefaultDisplay();
    for (int i = 0; i < m_impl->config->getNumViews(display); ++i)
        names.emplace_back(m_impl->config->getView(display, i));
    return names;
}

Result<std::shared_ptr<const ColourTransform>> ColourManagement::viewTransform(
    const std::string& view) const {
    try {
        auto display = ocio::DisplayViewTransform::Create();
        display->setSrc(m_impl->nameOf(encoding::kLinear).c_str());
        display->setDisplay(m_impl->config->getDefaultDisplay());
        display->setView(view.c_str());
        const auto processor = m_impl->config->getProcessor(display);
        return std::make_shared<Processor>(processor->getOptimizedCPUProcessor(
            ocio::BIT_DEPTH_F32, ocio::BIT_DEPTH_F32, ocio::OPTIMIZATION_DEFAULT));
    } catch (const std::exception& e) {
        return fail(ErrorKind::Invalid,
                    fmt::format("The colour configuration has no view {}. Choose another.", view), e.what());
    }
}

Result<ColourManagement> ColourManagement::fromFile(const std::string& path) {
    try {
        auto impl = std::make_shared<Impl>();
        impl->config = ocio::Config::CreateFromFile(path.c_str());
        impl->config->validate();
        return ColourManagement(std::move(impl));
    } catch (const std::exception& e) {
        return fail(
            ErrorKind::Invalid,
            fmt::format("Cannot use the colour configuration {}. Choose another, or unset OCIO.", path),
            e.what());
    }
}

Result<ColourManagement> ColourManagement::fromEnvironment() {
    const char* path = std::getenv("OCIO");
    if (path != nullptr && *path != '\0') return fromFile(path);
    return shipped();
}

std::vector<std::string> ColourManagement::spaces() const {
    std::vector<std::string> names;
    for (int i = 0; i < m_impl->config->getNumColorSpaces(); ++i)
        names.emplace_back(m_impl->config->getColorSpaceNameByIndex(i));
    return names;
}

bool ColourManagement::knows(const std::string& space) const {
    return m_impl->config->getColorSpace(m_impl->nameOf(space).c_str()) != nullptr;
}

Result<void> ColourManagement::convert(float* rgb, std::size_t count, const std::string& from,
                                       const std::string& to) const {
    if (from == to || from == encoding::kRaw || to == encoding::kRaw || count == 0) return {};
    if (!knows(from) || !knows(to))
        return fail(
            ErrorKind::Invalid,
            fmt::format(
                "Cannot convert from {} to {}: the colour configuration has no such pair. Choose another "
                "encoding.",
                from, to));
    if (const auto made = transform(from, to)) made->applyPixels(rgb, count);
    return {};
}

}  // namespace kettle
