#include "core/shading/environment.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/file_stamp.h"
#include "core/base/pi.h"
#include "core/threads/parallel.h"

namespace kettle {
namespace {

/// Octahedral map of a direction to [0,1]². Source: Cigolle and others, A Survey of Efficient Representations
/// for Independent Unit Vectors, 2014.
Vec2 octahedron(Vec3 d) {
    const float scale = 1.0f / (std::fabs(d.x) + std::fabs(d.y) + std::fabs(d.z));
    float x = d.x * scale, y = d.z * scale;
    if (d.y < 0) {
        const float fx = (1 - std::fabs(y)) * std::copysign(1.0f, x),
                    fy = (1 - std::fabs(x)) * std::copysign(1.0f, y);
        x = fx, y = fy;
    }
    return {x * 0.5f + 0.5f, y * 0.5f + 0.5f};
}

Vec3 fromOctahedron(float u, float v) {
    float x = u * 2 - 1, z = v * 2 - 1;
    const float y = 1 - std::fabs(x) - std::fabs(z);
    if (y < 0) {
        const float fx = (1 - std::fabs(z)) * std::copysign(1.0f, x),
                    fz = (1 - std::fabs(x)) * std::copysign(1.0f, z);
        x = fx, z = fz;
    }
    return normalised({x, y, z});
}

float radicalInverse(std::uint32_t bits) {
    bits = (bits << 16u) | (bits >> 16u);
    bits = ((bits & 0x55555555u) << 1u) | ((bits & 0xAAAAAAAAu) >> 1u);
    bits = ((bits & 0x33333333u) << 2u) | ((bits & 0xCCCCCCCCu) >> 2u);
    bits = ((bits & 0x0F0F0F0Fu) << 4u) | ((bits & 0xF0F0F0F0u) >> 4u);
    bits = ((bits & 0x00FF00FFu) << 8u) | ((bits & 0xFF00FF00u) >> 8u);
    return static_cast<float>(bits) * 2.3283064365386963e-10f;
}

/// Angle of (x, y) in radians, to 1e-6. Source: Abramowitz and Stegun, Handbook of Mathematical
/// Functions, 4.4.49.
float quickAngle(float y, float x) {
    const float ax = std::fabs(x), ay = std::fabs(y);
    const float t = std::min(ax, ay) / std::max(std::max(ax, ay), 1e-30f), t2 = t * t;
    float sum = 0.0028662257f;
    for (const float c : {-0.0161657367f, 0.0429096138f, -0.0752896400f, 0.1065626393f, -0.1420889944f,
                          0.1999355085f, -0.3333314528f, 1.0f})
        sum = sum * t2 + c;
    float angle = t * sum;
    angle = ay > ax ? kPi / 2 - angle : angle;
    angle = x < 0 ? kPi - angle : angle;
    return std::copysign(angle, y);
}

/// Arc cosine of -1..1 to 1e-6. Source: the same, 4.4.46.
float quickArcCosine(float x) {
    const float a = std::fabs(x);
    float sum = -0.0012624911f;
    for (const float c : {0.0066700901f, -0.0170881256f, 0.0308918810f, -0.0501743046f, 0.0889789874f,
                          -0.2145988016f, 1.5707963050f})
        sum = sum * a + c;
    sum *= std::sqrt(std::max(1 - a, 0.0f));
    return x < 0 ? kPi - sum : sum;
}

/// A latitude-longitude picture with coarser versions, so that a few wide samples are enough.
struct Panorama {
    struct Size {
        int width, height;
        std::vector<Vec3> pixels;
    };
    std::vector<Size> sizes;
    Panorama(const std::vector<Vec3>& pixels, int width, int height) {
        sizes.push_back({width, height, pixels});
        while (sizes.back().width > 8 && sizes.back().height > 4) {
            const Size& from = sizes.back();
            Size to{from.width / 2, from.height / 2, {}};
            for (int y = 0; y < to.height; ++y)
                for (int x = 0; x < to.width; ++x) {
                    const auto at = [&](int i, int j) {
                        return from.pixels[static_cast<std::size_t>((2 * y + j) * from.width + 2 * x + i)];
                    };
                    to.pixels.push_back((at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) * 0.25f);
                }
            sizes.push_back(std::move(to));
        }
    }
    /// The picture of `level`, or the nearest that there is.
    const Size& at(float level) const {
        return sizes[static_cast<std::size_t>(
            std::clamp(level + 0.5f, 0.0f, static_cast<float>(sizes.size() - 1)))];
    }
    static Vec3 look(const Size& s, Vec3 d) {
        const float u = quickAngle(d.x, -d.z) / (2 * kPi) + 0.5f, v = quickArcCosine(d.y) / kPi;
        const float x = u * static_cast<float>(s.width) - 0.5f, y = v * static_cast<float>(s.height) - 0.5f;
        const int left = static_cast<int>(std::floor(x)), top = static_cast<int>(std::floor(y));
        const float fx = x - static_cast<float>(left), fy = y - static_cast<float>(top);
        const int x0 = left < 0 ? left + s.width : std::min(left, s.width - 1),  // u is 0 to 1
            x1 = x0 + 1 < s.width ? x0 + 1 : 0;
        const Vec3* const row0 = s.pixels.data() + std::max(top, 0) * s.width;
        const Vec3* const row1 = s.pixels.data() + std::min(top + 1, s.height - 1) * s.width;
        return mix(mix(row0[x0], row0[x1], fx), mix(row1[x0], row1[x1], fx), fy);
    }
};

Vec3 directionOf(int x, int y, int width, int height) {
    const float phi = ((static_cast<float>(x) + 0.5f) / static_cast<float>(width) - 0.5f) * 2 * kPi;
    const float theta = (static_cast<float>(y) + 0.5f) / static_cast<float>(height) * kPi;
    return {std::sin(theta) * std::sin(phi), std::cos(theta), -std::sin(theta) * std::cos(phi)};
}

/// The mean of a panorama under a GGX lobe of one roughness, seen along its axis (Karis 2013): importance
/// samples, weighted by the cosine. They are the same for every axis, and are made once.
class LobeFilter {
public:
    LobeFilter(const Panorama& panorama, float roughness) : m_panorama(panorama) {
        constexpr std::uint32_t kSamples = 96;
        const float alpha = roughness * roughness, alpha2 = alpha * alpha;
        const Panorama::Size& finest = panorama.sizes[0];
        const float texel = 4 * kPi / (static_cast<float>(finest.width) * static_cast<float>(finest.height));
        for (std::uint32_t i = 0; i < kSamples; ++i) {
            const float e = (static_cast<float>(i) + 0.5f) / kSamples, phi = 2 * kPi * radicalInverse(i);
            const float cosine = std::sqrt((1 - e) / (1 + (alpha2 - 1) * e)),
                        sine = std::sqrt(std::max(0.0f, 1 - cosine * cosine));
            // The half vector's direction mirrors the axis to here.
            const Vec3 l{2 * cosine * sine * std::cos(phi), 2 * cosine * sine * std::sin(phi),
                         2 * cosine * cosine - 1};
            if (l.z <= 0) continue;
            const float k = cosine * cosine * (alpha2 - 1) + 1, density = alpha2 / (kPi * k * k) / 4;
            const float solid = 1 / (kSamples * std::max(density, 1e-6f));
            m_samples.push_back({l, &panorama.at(0.5f * std::log2(std::max(solid / texel, 1.0f)))});
            m_weights += l.z;
        }
    }
    Vec3 along(Vec3 n) const {
        if (m_samples.empty()) return Panorama::look(m_panorama.sizes[0], n);
        const Vec3 helper = std::fabs(n.y) < 0.9f ? Vec3{0, 1, 0} : Vec3{1, 0, 0};
        const Vec3 a = normalised(cross(helper, n)), b = cross(n, a);
        Vec3 sum;
        for (const Sample& s : m_samples)
            sum += Panorama::look(*s.picture, a * s.direction.x + b * s.direction.y + n * s.direction.z) *
                   s.direction.z;
        return sum * (1 / m_weights);
    }

private:
    struct Sample {
        Vec3 direction;  ///< beside the axis, which is z
        const Panorama::Size* picture;
    };
    const Panorama& m_panorama;
    std::vector<Sample> m_samples;
    float m_weights = 0;
};

/// The panorama seen by a surface facing n: the mean by the cosine, over a coarse version's pixels.
class CosineFilter {
public:
    explicit CosineFilter(const Panorama& panorama) {
        std::size_t level = 0;
        while (level + 1 < panorama.sizes.size() && panorama.sizes[level].width > 64) ++level;
        const Panorama::Size& s = panorama.sizes[level];
        for (int y = 0; y < s.height; ++y)
            for (int x = 0; x < s.width; ++x) {
                const float theta = (static_cast<float>(y) + 0.5f) / static_cast<float>(s.height) * kPi;
                const float solid = std::sin(theta) * 2 * kPi * kPi / static_cast<float>(s.width * s.height);
                m_directions.push_back(directionOf(x, y, s.width, s.height));
                m_light.push_back(s.pixels[static_cast<std::size_t>(y * s.width + x)] * solid);
                m_solid.push_back(solid);
            }
    }
    Vec3 facing(Vec3 n) const {
        Vec3 sum;
        float weights = 0;
        for (std::size_t i = 0; i < m_light.size(); ++i) {
            const float cosine = std::max(dot(n, m_directions[i]), 0.0f);
            sum += m_light[i] * cosine;
            weights += m_solid[i] * cosine;
        }
        return sum * (1 / weights);
    }

private:
    std::vector<Vec3> m_directions, m_light;
    std::vector<float> m_solid;
};

float brightness(Vec3 c) {
    return 0.2126f * c.x + 0.7152f * c.y + 0.0722f * c.z;
}

}  // namespace

void Environment::prepare(const std::vector<Vec3>& original, int width, int height) {
    std::vector<Vec3> pixels = original;
    // What is far brighter than the mean becomes the key light, so that its shadow can be cast; the rest
    // stays a picture.
    float mean = 0, total = 0;
    const auto solidAngle = [&](int y) {
        return std::sin((static_cast<float>(y) + 0.5f) / static_cast<float>(height) * kPi) * kPi * 2 * kPi /
               static_cast<float>(width * height);
    };
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            mean += brightness(pixels[static_cast<std::size_t>(y * width + x)]) * solidAngle(y);
            total += solidAngle(y);
        }
    const float threshold = 8 * mean / total;
    Vec3 direction;
    m_keyIrradiance = {};
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            Vec3& p = pixels[static_cast<std::size_t>(y * width + x)];
            const float l = brightness(p);
            if (l <= threshold) continue;
            const Vec3 kept = p * (threshold / l), excess = p - kept;
            direction += directionOf(x, y, width, height) * (brightness(excess) * solidAngle(y));
            m_keyIrradiance += excess * solidAngle(y);
            p = kept;
        }
    if (length(direction) > 0) m_keyDirection = normalised(direction);
    m_keyDirection = normalised(m_keyDirection);

    const Panorama panorama(pixels, width, height);
    layOut();
    const CosineFilter cosine(panorama);
    for (std::size_t k = 0; k < EnvironmentTables::kPictures; ++k) {
        const auto size = static_cast<std::size_t>(m_tables.size[k]);
        const float roughness = static_cast<float>(k) / (EnvironmentTables::kLevels - 1);
        const LobeFilter lobe(panorama, roughness);
        float* const texels = m_tables.texels.data() + static_cast<std::size_t>(m_tables.start[k]) * 4;
        parallelFor(size, 4, [&](std::size_t begin, std::size_t end) {
            for (std::size_t y = begin; y < end; ++y)
                for (std::size_t x = 0; x < size; ++x) {
                    const Vec3 d = fromOctahedron((static_cast<float>(x) + 0.5f) / static_cast<float>(size),
                                                  (static_cast<float>(y) + 0.5f) / static_cast<float>(size));
                    const Vec3 seen = k == 0                            ? Panorama::look(panorama.sizes[0], d)
                                      : k == EnvironmentTables::kLevels ? cosine.facing(d)
                                                                        : lobe.along(d);
                    float* const texel = texels + 4 * (y * size + x);
                    texel[0] = seen.x, texel[1] = seen.y, texel[2] = seen.z;
                }
        });
    }
}

void Environment::layOut() {
    std::size_t all = 0;
    for (std::size_t k = 0; k < EnvironmentTables::kPictures; ++k) {
        const int size = k == 0 ? 192 : k < 3 ? 96 : 48;
        m_tables.size[k] = size, m_tables.start[k] = static_cast<std::int32_t>(all);
        all += static_cast<std::size_t>(size) * static_cast<std::size_t>(size);
    }
    m_tables.texels.resize(all * 4);
}

namespace {
/// To be changed with whatever changes a prepared light.
constexpr const char* kPreparedKind = "light 2|";
constexpr std::size_t kKeyFloats = 8;  ///< after the texels: the key light's direction and irradiance

std::string keyOf(const std::filesystem::path& file) {
    std::error_code code;
    return kPreparedKind + std::filesystem::absolute(file, code).lexically_normal().string();
}

}  // namespace

std::shared_ptr<const Environment> Environment::findPrepared(const PreparedMaps& prepared,
                                                             const std::filesystem::path& file) {
    const auto tile = prepared.find(keyOf(file), fileStamp(file));
    std::shared_ptr<Environment> made(new Environment);
    made->layOut();
    std::vector<float>& texels = made->m_tables.texels;
    if (!tile || !tile->isSound()) return nullptr;
    const PixelView& row = tile->levels().front();
    if (row.depth != Depth::Float || row.height != 1 || row.channels != 4 ||
        static_cast<std::size_t>(row.width) * 4 != texels.size() + kKeyFloats)
        return nullptr;
    const auto* numbers = row.row<float>(0);
    std::copy_n(numbers, texels.size(), texels.begin());
    const float* key = numbers + texels.size();
    made->m_keyDirection = {key[0], key[1], key[2]};
    made->m_keyIrradiance = {key[4], key[5], key[6]};
    return made;
}

void Environment::keepPrepared(const PreparedMaps& prepared, const std::filesystem::path& file) const {
    std::vector<float> numbers = m_tables.texels;
    for (const Vec3 v : {m_keyDirection, m_keyIrradiance})
        for (const float x : {v.x, v.y, v.z, 0.0f}) numbers.push_back(x);
    PixelView row;
    row.width = static_cast<int>(numbers.size() / 4), row.height = 1, row.channels = 4;
    row.depth = Depth::Float;
    row.data = reinterpret_cast<const std::byte*>(numbers.data());
    prepared.keep(keyOf(file), fileStamp(file), {row}, 0);
}

Result<std::shared_ptr<const Environment>> Environment::load(const std::filesystem::path& file,
                                                             const PreparedMaps* prepared, bool keeps) {
    return guarded("read " + file.string(), [&]() -> Result<std::shared_ptr<const Environment>> {
        if (prepared != nullptr)
            if (auto found = findPrepared(*prepared, file)) return found;
        auto made = read(file);
        if (made && prepared != nullptr && keeps) (*made)->keepPrepared(*prepared, file);
        return made;
    });
}

Result<std::shared_ptr<const Environment>> Environment::read(const std::filesystem::path& file) {
    auto image = readImage(file);
    if (!image) return fail(image.error());
    if (image->width != 2 * image->height || image->channels < 3 || image->depth != Depth::Float)
        return fail(ErrorKind::Invalid, fmt::format("{} is not an environment: it must be a half or float "
                                                    "picture twice as wide as high. Choose another.",
                                                    file.string()));
    std::vector<Vec3> pixels;
    for (int y = 0; y < image->height; ++y)
        for (int x = 0; x < image->width; ++x) {
            const float* p = image->row<float>(y) + x * image->channels;
            // An infinite lamp would be all that there is; what is no number is dark.
            const auto light = [](float v) { return std::isnan(v) ? 0.0f : std::clamp(v, 0.0f, 65504.0f); };
            pixels.push_back({light(p[0]), light(p[1]), light(p[2])});
        }
    std::shared_ptr<Environment> made(new Environment);
    made->prepare(pixels, image->width, image->height);
    return std::shared_ptr<const Environment>(made);
}

std::shared_ptr<const Environment> Environment::uniform(Vec3 radiance) {
    std::shared_ptr<Environment> made(new Environment);
    made->prepare(std::vector<Vec3>(64 * 32, radiance), 64, 32);
    return made;
}

Vec3 Environment::lookUp(std::size_t level, Vec3 direction) const {
    const Vec2 at = octahedron(direction);
    const int size = m_tables.size[level], last = size - 1;
    const float x = at.x * static_cast<float>(size) - 0.5f, y = at.y * static_cast<float>(size) - 0.5f;
    const int x0 = std::clamp(static_cast<int>(x), 0, last), y0 = std::clamp(static_cast<int>(y), 0, last);
    const int x1 = std::min(x0 + 1, last), y1 = std::min(y0 + 1, last);
    const float fx = std::clamp(x - static_cast<float>(x0), 0.0f, 1.0f),
                fy = std::clamp(y - static_cast<float>(y0), 0.0f, 1.0f);
    const auto texel = [&](int i, int j) {
        const float* t =
            m_tables.texels.data() + 4 * static_cast<std::size_t>(m_tables.start[level] + j * size + i);
        return Vec3{t[0], t[1], t[2]};
    };
    return mix(mix(texel(x0, y0), texel(x1, y0), fx), mix(texel(x0, y1), texel(x1, y1), fx), fy);
}

Vec3 Environment::reflected(Vec3 direction, float roughness) const {
    constexpr int kLevels = EnvironmentTables::kLevels;
    const float at = (roughness > 0 ? std::min(roughness, 1.0f) : 0.0f) * (kLevels - 1);  // NaN is 0 too
    const auto low = std::min(static_cast<std::size_t>(at), static_cast<std::size_t>(kLevels - 2));
    return mix(lookUp(low, direction), lookUp(low + 1, direction), at - static_cast<float>(low));
}

Vec3 Environment::diffuse(Vec3 n) const {
    return lookUp(EnvironmentTables::kLevels, n);
}

}  // namespace kettle
