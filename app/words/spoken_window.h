// The window's own texts in the language of the core's (core/words): one catalogue for all of the program.
#pragma once

#include <memory>

#include <QLocale>
#include <QTranslator>

namespace lowkite::app {

/// Gives tr() what speak() was given. Install one before the first window is made. One English text has one
/// translation, whichever class it stands in: where another language needs two, English has to say two.
class SpokenWindow : public QTranslator {
 public:
  using QTranslator::QTranslator;
  [[nodiscard]] QString translate(const char* context, const char* source, const char* disambiguation,
                                  int n) const override;
  [[nodiscard]] bool isEmpty() const override { return false; }
};

/// Qt's own texts (Cancel, Yes to All) in a language, from what the system has of them (qt6-translations-l10n); nullptr
/// where it has none.
std::unique_ptr<QTranslator> spokenQt(const QLocale& locale);

}  // namespace lowkite::app
