# Installs what is missing and configures the release build; sourced by ./demo and ./test. Debian 12.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."

packages=(g++ cmake ninja-build ccache pkg-config zlib1g-dev
    qt6-base-dev qt6-svg-dev libqt6svg6 qt6-qpa-plugins libgl1-mesa-dev
    nlohmann-json3-dev libsqlitecpp-dev libsqlite3-dev libfmt-dev libspdlog-dev libcli11-dev libexpected-dev
    libfast-float-dev libsndfile1-dev libmatio-dev libsuitesparse-dev libeigen3-dev libpqxx-dev fonts-lato
    libgtest-dev libgmock-dev libbenchmark-dev libngspice0-dev clang-format xvfb openbox xdotool python3-jsonschema python3-numpy
    postgresql)

missing=()
for package in "${packages[@]}"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
done
if [ ${#missing[@]} -gt 0 ]; then
    echo "Installing: ${missing[*]}"
    root=()
    if [ "$(id -u)" -ne 0 ]; then
        command -v sudo >/dev/null || { echo "These packages are missing and neither root nor sudo is at hand: ${missing[*]}" >&2; exit 1; }
        root=(sudo)
    fi
    "${root[@]}" apt-get update -qq
    "${root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
fi
[ -f build/release/build.ninja ] || cmake --preset release >/dev/null
