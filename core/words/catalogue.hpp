// The language of a catalogue that gettext has made: po/LANGUAGE.po, compiled into LANGUAGE/LC_MESSAGES/lowkite.mo.
#pragma once

#include <filesystem>
#include <memory>

#include "core/words/say.hpp"

namespace lowkite {

/// The catalogue below a folder for the language that the system asks for (LANGUAGE, LC_ALL, LC_MESSAGES, LANG): what a
/// program hands to speak() when it starts. The folder may be without any; everything then stays English.
std::unique_ptr<const Language> catalogue(const std::filesystem::path& folder);

/// The folder of the catalogues that belong to a program: beside it in a build (share/locale), or where it was
/// installed.
std::filesystem::path catalogue_folder(const std::filesystem::path& program);

}  // namespace lowkite
