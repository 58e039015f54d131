#include "core/colour/colour_management.h"

#include <OpenColorIO/OpenColorIO.h>
#include <fmt/format.h>

#include <cstdlib>
#include <sstream>

#include "core/colour/encoding.h"
#include "core/colour/shipped_config.h"

namespace ocio = OCIO_NAMESPACE;

namespace kettle {

struct ColourManagement::Impl {
    ocio::ConstConfigRcPtr config;
};

ColourManagement ColourManagement::shipped() {
    auto impl = std::make_shared<Impl>();
    std::istringstream text{kShippedConfig};
    impl->config = ocio::Config::CreateFromStream(text);
    return ColourManagement(std::move(impl));
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
    return m_impl->config->getColorSpace(space.c_str()) != nullptr;
}

Result<void> ColourManagement::convert(float* rgb, std::size_t count, const std::string& from,
                                       const std::string& to) const {
    if (from == to || from == encoding::kRaw || to == encoding::kRaw || count == 0) return {};
    try {
        const auto processor = m_impl->config->getProcessor(from.c_str(), to.c_str());
        const auto cpu = processor->getDefaultCPUProcessor();
        ocio::PackedImageDesc pixels(rgb, static_cast<long>(count), 1, 3);
        cpu->apply(pixels);
        return {};
    } catch (const std::exception& e) {
        return fail(
            ErrorKind::Invalid,
            fmt::format(
                "Cannot convert from {} to {}: the colour configuration has no such pair. Choose another "
                "encoding.",
                from, to),
            e.what());
    }
}

}  // namespace kettle
