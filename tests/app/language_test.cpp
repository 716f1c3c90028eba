// The window in a language of no people: what stays plain was never asked for, what was asked for and is unknown to the
// translators' list would stay English for ever, and what two fifths more letters cut is cut in German, too.
#include <map>
#include <mutex>
#include <set>

#include <QBuffer>
#include <QDialogButtonBox>
#include <QDirIterator>
#include <QListWidget>
#include <QPainter>
#include <QProcess>
#include <QPushButton>
#include <QRegularExpression>
#include <QSvgGenerator>
#include <QTextBrowser>
#include <QTextDocument>

#include "app/help/guide_window.h"
#include "app/paper/bench_sheet.h"
#include "app/paper/setup_sheet.h"
#include "app/paper/track_sheets.h"
#include "app/words/spoken_window.h"
#include "core/words/say.hpp"
#include "tests/app/walk.h"

namespace lowkite::app {
namespace {

/// Every letter with an accent, every word two fifths longer. Places to be filled in, markup and entities stay.
QString accented(const QString& english) {
  static const QRegularExpression left(QStringLiteral(
      "\\{\\{|\\}\\}|\\{[^}]*\\}|%L?\\d+|%n|<[^>]*>|&[a-z]+;|&#\\d+;|https?://\\S+|\\b[a-z]+_[a-z_]+\\b"));
  static const QString plain = QStringLiteral("abcdefghijklmnoprstuvwxyzABCDEFGHIJKLMNOPRSTUVWXYZ");
  static const QString strange = QStringLiteral("áḃćďéḟǵĥíĵķĺṁńóṗŕśťúṽẃẋýźÁḂĆĎÉḞǴĤÍĴĶĹṀŃÓṖŔŚŤÚṼẂẊÝŹ");
  // Symbols of units are the same in every language.
  static const QRegularExpression unit(
      QStringLiteral("^ *(mm|deg|N|s|ms|g|m|cSt|Hz)([ /](mm|deg|N|s|g|m|rad|mm\u00B2))* *$"));
  if (unit.match(english).hasMatch()) return english;
  QString out;
  const auto letters = [&](QStringView part) {
    double owed = 0.0;
    for (const QChar c : part) {
      const auto known = plain.indexOf(c);
      if (known < 0 && owed >= 0.5) {
        out += QString(static_cast<qsizetype>(std::lround(owed)), QChar(0x00F8));
        owed = 0.0;
      }
      out += known < 0 ? c : strange[known];
      owed += known < 0 ? 0.0 : 0.4;
    }
    if (owed >= 0.5) out += QString(static_cast<qsizetype>(std::lround(owed)), QChar(0x00F8));
  };
  qsizetype from = 0;
  for (auto it = left.globalMatch(english); it.hasNext();) {
    const auto match = it.next();
    letters(QStringView(english).mid(from, match.capturedStart() - from));
    out += match.captured();
    from = match.capturedEnd();
  }
  letters(QStringView(english).mid(from));
  return out;
}

/// What was asked for, in whichever thread.
class Asked {
 public:
  void add(const std::string& text) {
    const std::scoped_lock lock(mutex_);
    texts_.insert(text);
  }
  std::set<std::string> texts() {
    const std::scoped_lock lock(mutex_);
    return texts_;
  }

 private:
  std::mutex mutex_;
  std::set<std::string> texts_;
};

class Accented : public Language {
 public:
  explicit Accented(Asked& asked) : asked_(asked) {}
  [[nodiscard]] std::string of(const std::string& english) const override {
    asked_.add(english);
    return accented(QString::fromStdString(english)).toStdString();
  }
  [[nodiscard]] std::string of(const std::string& one, const std::string& many, unsigned long n) const override {
    asked_.add(many);
    return accented(QString::fromStdString(n == 1 ? one : many)).toStdString();
  }

 private:
  Asked& asked_;
};

/// The texts that translators are given.
std::set<std::string> listed() {
  const QTemporaryDir folder;
  const QString list = folder.filePath(QStringLiteral("lowkite.pot"));
  QProcess tool;
  tool.start(QStringLiteral(LOWKITE_SOURCE_DIR "/tools/update-texts"), {list});
  EXPECT_TRUE(tool.waitForFinished(120000) && tool.exitCode() == 0) << tool.readAllStandardError().toStdString();
  std::set<std::string> texts;
  QString text;
  bool inside = false;
  const auto unquoted = [](QString line) {
    line = line.mid(line.indexOf(QLatin1Char('"')) + 1).chopped(1);
    QString plain;
    for (qsizetype i = 0; i < line.size(); ++i)
      if (line[i] == QLatin1Char('\\') && i + 1 < line.size()) {
        ++i;
        plain += line[i] == QLatin1Char('n') ? QLatin1Char('\n') : line[i];
      } else {
        plain += line[i];
      }
    return plain;
  };
  for (QString line : QString::fromUtf8(contentOf(list)).split(QLatin1Char('\n'))) {
    if (line.startsWith(QStringLiteral("msgid"))) {
      if (inside) texts.insert(text.toStdString());
      text = unquoted(line);
      inside = true;
    } else if (line.startsWith(QStringLiteral("msgstr"))) {
      if (inside) texts.insert(text.toStdString());
      inside = false;
    } else if (inside && line.startsWith(QLatin1Char('"'))) {
      text += unquoted(line);
    }
  }
  return texts;
}

class InAnotherLanguage : public Walk {
 protected:
  void SetUp() override {
    speak(std::make_unique<Accented>(asked_));
    QCoreApplication::installTranslator(&spoken_);
    Walk::SetUp();
    gatherNames();
  }
  void TearDown() override {
    window_.reset();
    QCoreApplication::removeTranslator(&spoken_);
    speak(nullptr);
  }

  /// What a racer has named himself, in the demo's files: shown as he wrote it.
  void gatherNames() {
    const std::function<void(const Json&, const std::string&)> walk = [&](const Json& j, const std::string& key) {
      if (j.is_string()) {
        static const std::set<std::string> named{"name",   "label", "track",    "notes", "tyres",   "class",  "driver",
                                                 "insert", "broke", "additive", "maker", "battery", "colour", "note"};
        const QString text = QString::fromStdString(j.get<std::string>());
        if (named.contains(key)) names_.insert(text);
      } else if (j.is_object()) {
        for (const auto& [k, v] : j.items()) walk(v, k);
      } else if (j.is_array()) {
        for (const auto& v : j) walk(v, key);
      }
    };
    names_ = {QStringLiteral("Kit")};  // the setup that every car brings
    for (const char* folder : {"cars", "setups", "boxes", "log"})
      for (QDirIterator file(dataPath(QString::fromLatin1(folder)), {QStringLiteral("*.json")}); file.hasNext();)
        walk(Json::parse(contentOf(file.next()).toStdString()), "");
  }

  /// Words of a text that were not asked for, without names and units.
  QStringList plainIn(QString text) {
    static const QRegularExpression markup(
        QStringLiteral("<style.*</style>|<[^>]*>|&[a-z]+;|\\S+\\.kite-\\S+|/\\S+/\\S+"));
    static const QRegularExpression word(QStringLiteral("[A-Za-z]{2,}"));
    static const QSet<QString> kept{"mm",    "deg", "cSt", "Hz",  "Nm",  "min",  "Low",    "Kite", "Ctrl",
                                    "Shift", "Alt", "Esc", "Del", "Tab", "PgUp", "PgDown", "CSV",  "PDF",
                                    "JSON",  "PNG", "SVG", "rad", "ms",  "km",   "kg",     "OK"};
    text.remove(markup);
    // What is chosen of a part's places: a word as short as "up".
    if (names_.contains(text.section(QStringLiteral(": "), -1))) text = text.section(QStringLiteral(": "), 0, -2);
    // The longest first: a name may stand in another.
    std::vector<QString> longest(names_.begin(), names_.end());
    std::sort(longest.begin(), longest.end(), [](const QString& a, const QString& b) { return a.size() > b.size(); });
    for (const QString& name : longest)
      if (name.size() > 2) text.remove(name, Qt::CaseInsensitive);
    QStringList plain;
    for (auto it = word.globalMatch(text); it.hasNext();)
      if (const QString found = it.next().captured(); !kept.contains(found)) plain << found;
    return plain;
  }

  /// Every text that is painted, by whatever paints it: a picture of words keeps them.
  QStringList painted() {
    QBuffer picture;
    picture.open(QIODevice::WriteOnly);
    QSvgGenerator svg;
    svg.setOutputDevice(&picture);
    svg.setSize(window_->size());
    QPainter painter(&svg);
    window_->render(&painter);
    painter.end();
    static const QRegularExpression text(QStringLiteral("<text[^>]*>([^<]*)</text>"),
                                         QRegularExpression::DotMatchesEverythingOption);
    QStringList words;
    const QString drawn = QString::fromUtf8(picture.data());
    for (auto it = text.globalMatch(drawn); it.hasNext();) words << it.next().captured(1).trimmed();
    return words;
  }

  void lookForEnglish(const QString& view) {
    const QStringList drawn = painted();
    EXPECT_GT(drawn.size(), 10) << view.toStdString();
    for (const QString& text : drawn) {
      QStringList plain = plainIn(text);
      // A name may be painted over two lines, or in part.
      plain.removeIf([&](const QString& word) {
        return std::any_of(names_.begin(), names_.end(), [&](const QString& name) { return name.contains(word); });
      });
      if (!plain.isEmpty())
        english_[QStringLiteral("%1 in \"%2\"").arg(plain.join(QLatin1Char(' ')), text.left(90))] =
            QStringLiteral("%1, painted").arg(view);
    }
    for (QWidget* w : window_->findChildren<QWidget*>()) {
      if (!w->isVisible()) continue;
      QStringList words = wordsOf(*w);
      words << w->accessibleName() << w->accessibleDescription();
      for (const QString& text : words)
        if (const QStringList plain = plainIn(text); !plain.isEmpty())
          english_[QStringLiteral("%1 in \"%2\"").arg(plain.join(QLatin1Char(' ')), text.left(90))] =
              QStringLiteral("%1, %2").arg(view, called(*w));
    }
  }

  void tellEnglish() {
    std::string all;
    for (const auto& [what, where] : english_) all += what.toStdString() + "   [" + where.toStdString() + "]\n";
    EXPECT_TRUE(english_.empty()) << english_.size() << " texts:\n" << all;
  }

  Asked asked_;
  SpokenWindow spoken_;
  QSet<QString> names_;
  std::map<QString, QString> english_;
};

TEST_F(InAnotherLanguage, NoEnglishIsLeftInAnyView) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  document().setValue(part("rear_camber_link"), Sides::both, 1.125);
  window_->track().model().fillWithDemo();
  settle();
  for (const auto& [name, show] : views()) {
    show();
    settle();
    window_->grab();
    lookForEnglish(name);
  }
  for (const QAction* a : window_->findChildren<QAction*>())
    if (const QStringList plain = plainIn(a->text()); !plain.isEmpty())
      english_[a->text()] =
          QStringLiteral("an action of %1")
              .arg(a->parent() ? a->parent()->objectName() + QLatin1String(a->parent()->metaObject()->className())
                               : QString());
  tellEnglish();
}

// Qt's own buttons have a catalogue of their own; ours leaves them to it.
TEST_F(InAnotherLanguage, TheButtonsOfQtSpeakIt) {
  const auto german = spokenQt(QLocale(QLocale::German));
  ASSERT_NE(german, nullptr) << "qt6-translations-l10n is among the packages";
  EXPECT_EQ(spokenQt(QLocale(QLocale::Zulu)), nullptr);
  QApplication::installTranslator(german.get());
  const QDialogButtonBox box(QDialogButtonBox::Cancel);
  EXPECT_EQ(box.button(QDialogButtonBox::Cancel)->text(), QStringLiteral("Abbrechen"));
  QApplication::removeTranslator(german.get());
}

TEST_F(InAnotherLanguage, NoEnglishIsLeftOfAnyCar) {
  window_->askUnsaved = [](const QString&) { return MainWindow::Unsaved::discard; };
  for (const char* car : {"godwit-ta", "plover-2wd", "dunlin-4wd", "sanderling-12", "wren-28"}) {
    ASSERT_TRUE(window_->open(dataPath(QStringLiteral("cars/%1.kite-car.json").arg(QLatin1String(car)))));
    for (const End end : both_ends) {
      model().setEnd(end);
      for (const auto& [name, show] : views()) {
        if (name.startsWith(QStringLiteral("track"))) continue;
        show();
        settle();
        lookForEnglish(QLatin1String(car) + QLatin1Char(' ') + name);
      }
    }
  }
  tellEnglish();
}

TEST_F(InAnotherLanguage, NoEnglishIsLeftOnTheBench) {
  everyStepOfTheBench([this](const QString& step) { lookForEnglish(step); });
  tellEnglish();
}

TEST_F(InAnotherLanguage, NoEnglishIsLeftOnPaper) {
  click(QStringLiteral("adjuster.front_link_inner_shims.less"));
  TrackModel& track = window_->track().model();
  track.fillWithDemo();
  window_->bench().model().start(BenchList::full);
  settle();
  ASSERT_TRUE(model().comparison());
  const Car& car = document().car();
  std::vector<Sheet> sheets{setupSheet(car, *model().comparison()->changed, BenchKit{}),
                            benchSheet(car, window_->bench().model().run()),
                            historySheet(track.everything(), car, track.lapRule())};
  for (const LoggedDay& day : track.everything()) sheets.push_back(daySheet(day, &car, track.lapRule()));
  ASSERT_GT(sheets.size(), 5U);
  for (const Sheet& s : sheets) {
    QTextDocument page;
    page.setHtml(s.html);
    for (const QString& line : (s.title + QLatin1Char('\n') + page.toPlainText()).split(QLatin1Char('\n')))
      if (const QStringList plain = plainIn(line); !plain.isEmpty())
        english_[QStringLiteral("%1 in \"%2\"").arg(plain.join(QLatin1Char(' ')), line.left(90))] = s.title;
  }
  tellEnglish();
}

TEST_F(InAnotherLanguage, TheGuideSpeaksIt) {
  GuideWindow guide(window_.get());
  const auto* list = guide.findChild<QListWidget*>(QStringLiteral("guide.sections"));
  const auto* page = guide.findChild<QTextBrowser*>(QStringLiteral("guide.page"));
  ASSERT_GT(list->count(), 10);
  for (int i = 0; i < list->count(); ++i) {
    const QString section = guideSections().at(i).heading;
    guide.open(section);
    EXPECT_EQ(guide.section(), section);
    EXPECT_EQ(list->currentRow(), i) << "found by the heading in English, whatever is shown";
    const QString text = list->item(i)->text() + QLatin1Char('\n') + page->toPlainText();
    EXPECT_GT(text.size(), 100);
    for (const QString& line : text.split(QLatin1Char('\n')))
      if (const QStringList plain = plainIn(line); !plain.isEmpty())
        english_[QStringLiteral("%1 in \"%2\"").arg(plain.join(QLatin1Char(' ')), line.left(90))] = section;
  }
  tellEnglish();
}

// A paragraph is one text, however its lines are broken; a table keeps its shape.
TEST_F(InAnotherLanguage, TheGuideIsTakenApartByWhatATranslatorReads) {
  EXPECT_EQ(
      saidInParagraphs(QStringLiteral("ab\n  cd\n\n- ab\n  cd\n- ab\n10. ab\ncd\n| ab | cd |\n|---|---|\nab")),
      QStringLiteral("%1\n\n- %1\n- %2\n10. %1\n| %2 | %3 |\n|---|---|\n%2")
          .arg(accented(QStringLiteral("ab cd")), accented(QStringLiteral("ab")), accented(QStringLiteral("cd"))));
}

// Whoever translates a text sees what each of its places holds, and may put them in any order.
TEST_F(InAnotherLanguage, EveryPlaceIsNamedOfATextThatHasTwo) {
  static const QRegularExpression place(QStringLiteral("\\{([^}:]*)"));
  int found = 0;
  for (const std::string& text : listed()) {
    QString rest = QString::fromStdString(text);
    rest.remove(QStringLiteral("{{")).remove(QStringLiteral("}}"));
    QStringList names;
    for (auto it = place.globalMatch(rest); it.hasNext();) names << it.next().captured(1);
    if (names.size() < 2) continue;
    ++found;
    EXPECT_FALSE(names.contains(QString())) << text;
  }
  EXPECT_GT(found, 100);
}

TEST_F(InAnotherLanguage, EveryTextThatIsAskedForIsInTheTranslatorsList) {
  for (const auto& [name, show] : views()) {
    show();
    settle();
  }
  const GuideWindow guide(window_.get());
  const std::set<std::string> known = listed();
  ASSERT_GT(known.size(), 1000U);
  std::string missing;
  for (const std::string& text : asked_.texts())
    // A car's own names are asked for too, where a list holds them beside the program's; they are nobody's to
    // translate.
    if (!known.contains(text) && !names_.contains(QString::fromStdString(text)) &&
        !plainIn(QString::fromStdString(text)).isEmpty())
      missing += text + "\n";
  EXPECT_TRUE(missing.empty()) << missing;
}

TEST_F(InAnotherLanguage, NothingIsCutThoughWordsAreLonger) {
  window_->track().model().fillWithDemo();
  walk({1280, 800});
  tell();
  // For whoever wants to see it: a picture of each view.
  if (const QString folder = qEnvironmentVariable("LOWKITE_LANGUAGE_PICTURES"); !folder.isEmpty())
    for (const auto& [name, show] : views()) {
      show();
      settle();
      window_->grab().save(QStringLiteral("%1/%2.png").arg(folder, name));
    }
}

}  // namespace
}  // namespace lowkite::app
