// Every file that the window writes goes this way: whole or not at all, with a sentence where it cannot.
#pragma once

#include <QByteArray>
#include <QString>

#include "core/io/atomic_file.hpp"

namespace lowkite::app {

/// Replaces `path` by `bytes`. The fault says what is wrong and what would help.
[[nodiscard]] tl::expected<void, Fault> writeFile(const QString& path, const QByteArray& bytes);

/// "Written: path", or why it was not.
[[nodiscard]] QString toldOf(const tl::expected<void, Fault>& written, const QString& path);

}  // namespace lowkite::app
