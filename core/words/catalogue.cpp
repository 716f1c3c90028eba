#include "core/words/catalogue.hpp"

#include <clocale>

#include <libintl.h>

namespace lowkite {
namespace {

constexpr const char* domain = "lowkite";

class Catalogue : public Language {
 public:
  explicit Catalogue(const std::filesystem::path& folder) {
    std::setlocale(LC_MESSAGES, "");
    ::bindtextdomain(domain, folder.c_str());
    ::bind_textdomain_codeset(domain, "UTF-8");
  }
  [[nodiscard]] std::string of(const std::string& english) const override {
    // To gettext the empty text is the catalogue's own heading.
    return english.empty() ? english : ::dgettext(domain, english.c_str());
  }
  [[nodiscard]] std::string of(const std::string& one, const std::string& many, unsigned long n) const override {
    return ::dngettext(domain, one.c_str(), many.c_str(), n);
  }
};

}  // namespace

std::unique_ptr<const Language> catalogue(const std::filesystem::path& folder) {
  return std::make_unique<Catalogue>(folder);
}

std::filesystem::path catalogue_folder(const std::filesystem::path& program) {
  return program.parent_path().parent_path() / "share" / "locale";
}

}  // namespace lowkite
