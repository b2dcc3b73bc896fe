// Which kind of file a recording is.
#include <filesystem>
#include <fstream>

#include "trace/formats/csv_reader.h"
#include "trace/formats/mat_file.h"
#include "trace/formats/npy_file.h"
#include "trace/formats/recording.h"
#include "trace/formats/wav_file.h"

namespace ilvek {

namespace {

enum class Kind { Empty, Npy, Mat, Wav, Text };

Kind kindOfFile(const std::string& path)
{
    std::string head(128, '\0');
    std::ifstream in(path, std::ios::binary);
    in.read(head.data(), static_cast<std::streamsize>(head.size()));
    head.resize(static_cast<std::size_t>(in.gcount()));
    if (head.empty()) return Kind::Empty;
    if (head.starts_with("\x93NUMPY")) return Kind::Npy;
    if (head.starts_with("MATLAB 5.0")) return Kind::Mat;
    if (head.starts_with("RIFF") || head.starts_with("RIFX") || head.starts_with("FORM") || head.starts_with("fLaC"))
        return Kind::Wav;
    return Kind::Text;
}

}  // namespace

bool isText(const std::string& path)
{
    return kindOfFile(path) == Kind::Text;
}

Result<Recording> readRecording(const std::string& path, const Progress& progress)
{
    std::error_code code;
    const auto status = std::filesystem::status(path, code);
    if (!std::filesystem::exists(status)) return fail(path, "there is no such file");
    if (!std::filesystem::is_regular_file(status)) return fail(path, "this is not an ordinary file");
    switch (kindOfFile(path)) {
        case Kind::Empty:
            return fail(path, "is empty");
        case Kind::Npy:
            return readNpy(path);
        case Kind::Mat:
            return readMat(path);
        case Kind::Wav:
            return readWav(path);
        case Kind::Text:
            break;
    }
    const auto guess = guessCsv(path);
    if (!guess) return tl::unexpected(guess.error());
    return readCsv(path, *guess, progress);
}

}  // namespace ilvek
