#include "app/words/spoken_window.h"

#include <string_view>

#include <QLibraryInfo>

#include "core/words/say.hpp"

namespace lowkite::app {

QString SpokenWindow::translate(const char* context, const char* source, const char* /*disambiguation*/,
                                int /*n*/) const {
  // Qt's own texts (QDialogButtonBox and such) have a translator of their own beside this one.
  const std::string_view of(context ? context : "");
  if (!source || (of.size() > 1 && of[0] == 'Q' && of[1] >= 'A' && of[1] <= 'Z')) return {};
  const std::string said = word(source);
  return said == source ? QString() : QString::fromStdString(said);
}

std::unique_ptr<QTranslator> spokenQt(const QLocale& locale) {
  auto qt = std::make_unique<QTranslator>();
  const bool found = qt->load(locale, QStringLiteral("qtbase"), QStringLiteral("_"),
                              QLibraryInfo::path(QLibraryInfo::TranslationsPath));
  return found ? std::move(qt) : nullptr;
}

}  // namespace lowkite::app
