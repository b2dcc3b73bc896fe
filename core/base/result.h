// What an operation that can fail gives back, and how a failure is named.
#pragma once

#include <string>
#include <tl/expected.hpp>
#include <utility>
#include <vector>

namespace ilvek {

// A failure: the item it is about (file, line, element, field) and the reason, in words a technician can act on.
struct Error {
    std::string item;
    std::string reason;

    // "item: reason", or the reason alone when there is no item.
    std::string message() const { return item.empty() ? reason : item + ": " + reason; }
    bool operator==(const Error&) const = default;
};

// Everything found wrong with a file, in the order of the file.
using Problems = std::vector<Error>;

// A value or the failure that took its place. No exception crosses the core's boundary.
template <class T, class E = Error>
class [[nodiscard]] Result : public tl::expected<T, E> {
public:
    using tl::expected<T, E>::expected;
};

inline tl::unexpected<Error> fail(std::string item, std::string reason)
{
    return tl::unexpected<Error>(Error{std::move(item), std::move(reason)});
}

}  // namespace ilvek
