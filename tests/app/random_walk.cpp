#include "tests/app/random_walk.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAbstractSpinBox>
#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QDialog>
#include <QDir>
#include <QFile>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPrinter>
#include <QScopedValueRollback>
#include <QSlider>
#include <QTemporaryDir>
#include <QTest>
#include <QToolButton>
#include <QWheelEvent>

#include "app/bench/bench_workspace.h"
#include "app/drawing/drawing_view.h"
#include "app/main_window.h"
#include "app/plan/curves/curve_panel.h"
#include "app/plan/plan_workspace.h"
#include "app/plan/sheet/sheet_page.h"
#include "app/track/laps_page.h"
#include "app/track/track_workspace.h"
#include "core/io/car_edit.hpp"
#include "core/io/json_document.hpp"
#include "core/log/log_exchange.hpp"
#include "tests/app/timed_application.h"
#include "tests/app/window_fixture.h"

namespace lowkite::app {
namespace {

QString called(const QObject& o) {
  if (!o.objectName().isEmpty()) return o.objectName();
  QString name = QString::fromLatin1(o.metaObject()->className());
  if (o.parent() && !o.parent()->objectName().isEmpty()) name += QStringLiteral(" of ") + o.parent()->objectName();
  return name;
}

/// Whatever a menu offers, but for the end of the walk.
bool mayTrigger(const QAction& a) {
  return a.isEnabled() && !a.isSeparator() && !a.menu() && a.shortcut() != QKeySequence(QKeySequence::Quit);
}

/// Everything that a racer edits, as it would be written.
std::string written(MainWindow& window) {
  std::string all;
  Document& d = window.document();
  if (d.hasCar())
    all = write_car(d.state().carSource) + write_setup(d.setup(), d.car(), Json()) +
          write_setup(d.baseline(), d.car(), Json());
  return all;
}

std::string writtenRun(MainWindow& window) {
  BenchModel& bench = window.bench().model();
  return bench.hasRun() ? write_run(bench.run(), window.document().car()) : std::string();
}

std::string writtenLog(MainWindow& window) {
  return window.track().model().isOpen() ? write_log(window.track().model().everything()) : std::string();
}

}  // namespace

RandomWalk::RandomWalk(MainWindow& window, std::uint32_t seed, const QString& folder, const QString& trace)
    : window_(window), random_(seed), folder_(folder), trace_(std::fopen(trace.toLocal8Bit().constData(), "w")) {
  replaceQuestions();
  QObject::connect(&answer_, &QTimer::timeout, &answer_, [this] { answerWhatWaits(); });
  answer_.start(15);
}

RandomWalk::~RandomWalk() {
  if (trace_) std::fclose(trace_);
}

int RandomWalk::below(int n) {
  return static_cast<int>(random_() % static_cast<std::uint32_t>(std::max(1, n)));
}

bool RandomWalk::chance(double p) {
  return below(10000) < p * 10000.0;
}

void RandomWalk::say(const QString& kind, const QString& what) {
  kind_ = kind;
  what_ = what;
  ++counts_[kind];
  if (!trace_) return;
  std::fprintf(trace_, "%d %s %s\n", steps_, kind.toLocal8Bit().constData(), what.toLocal8Bit().constData());
  std::fflush(trace_);
}

void RandomWalk::wait(int ms) {
  QElapsedTimer t;
  t.start();
  do QApplication::processEvents(QEventLoop::AllEvents, 5);
  while (t.elapsed() < ms);
}

void RandomWalk::replaceQuestions() {
  window_.askUnsaved = [this](const QString&) {
    const int answer = below(6);
    return answer == 0   ? MainWindow::Unsaved::cancel
           : answer == 1 ? MainWindow::Unsaved::save
                         : MainWindow::Unsaved::discard;
  };
  window_.askOpenPath = [this] { return fileToOpen(); };
  window_.askSavePath = [this](const QString&) { return fileToSave(QStringLiteral(".kite-setup.json")); };
  window_.askExportPath = [this](const QString& suggestion) {
    return fileToSave(QLatin1Char('.') + suggestion.section(QLatin1Char('.'), -1));
  };
  window_.askTablePath = [this] { return chance(0.5) ? fileToOpen() : fileToSave(QStringLiteral(".csv")); };
  window_.askPrinter = [this](QPrinter& printer) {
    printer.setOutputFormat(QPrinter::PdfFormat);
    printer.setOutputFileName(fileToSave(QStringLiteral(".pdf")));
    return chance(0.5) && !printer.outputFileName().isEmpty();
  };
  window_.askLogPath = [this] { return chance(0.5) ? fileToOpen() : fileToSave(QStringLiteral(".json")); };
  window_.bench().askPrinter = window_.askPrinter;
  window_.bench().askSheetPath = [this] { return fileToSave(QStringLiteral(".pdf")); };
}

void RandomWalk::answerWhatWaits() {
  if (!stepping_) return;  // of two walks the other one is on its way
  // Pages that are made when first opened bring questions of their own.
  for (auto* curves : window_.findChildren<CurvePanel*>())
    curves->askPath = [this](const QString& suffix) { return fileToSave(QLatin1Char('.') + suffix); };
  for (auto* laps : window_.findChildren<LapsPage*>())
    laps->askTable = [this] { return chance(0.5) ? fileToOpen() : fileToSave(QStringLiteral(".csv")); };
  for (auto* sheet : window_.findChildren<SheetPage*>()) {
    sheet->askSheetPath = [this] {
      return chance(0.7) ? dataPath(QStringLiteral("sheets/tannery-calm.pdf")) : fileToOpen();
    };
    sheet->askFilledPath = [this](const QString&) { return fileToSave(QStringLiteral(".pdf")); };
  }
  looped_ |= QApplication::activePopupWidget() || QApplication::activeModalWidget();
  if (QWidget* popup = QApplication::activePopupWidget()) {
    // One that another window left open is only closed.
    const bool mine = !popup->parentWidget() || popup->parentWidget()->window() == &window_;
    if (auto* menu = qobject_cast<QMenu*>(popup); menu && mine && chance(0.7)) {
      std::vector<QAction*> open;
      for (QAction* a : menu->actions())
        if (mayTrigger(*a)) open.push_back(a);
      if (!open.empty()) {
        QAction* chosen = any(open);
        menu->close();
        chosen->trigger();
        return;
      }
    }
    popup->close();
    return;
  }
  if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget()))
    chance(0.5) ? dialog->reject() : dialog->accept();
}

QString RandomWalk::fileToOpen() {
  static const std::vector<QString> shipped = [] {
    std::vector<QString> all;
    for (const char* sub : {"cars", "setups", "log"})
      for (const QString& name : QDir(dataPath(QLatin1String(sub))).entryList(QDir::Files, QDir::Name))
        all.push_back(dataPath(QLatin1String(sub)) + QLatin1Char('/') + name);
    // A walk may save what it opened: the samples of other tests stay as they are.
    static const QTemporaryDir copies;
    for (const QString& name : QDir(samplePath({})).entryList(QDir::Files, QDir::Name)) {
      const QString copy = copies.filePath(name);
      QFile::copy(samplePath(name), copy);
      QFile::setPermissions(copy, QFile::permissions(copy) | QFile::WriteOwner);
      all.push_back(copy);
    }
    return all;
  }();
  if (chance(0.1)) return {};
  const QStringList own = QDir(folder_).entryList(QDir::Files, QDir::Name);
  if (!own.isEmpty() && chance(0.4)) return folder_ + QLatin1Char('/') + own[below(static_cast<int>(own.size()))];
  return any(shipped);
}

QString RandomWalk::fileToSave(const QString& suffix) {
  if (chance(0.1)) return {};
  if (chance(0.05)) return folder_ + QStringLiteral("/no such folder/x") + suffix;
  const QString path = folder_ + QStringLiteral("/walk %1").arg(below(6)) + suffix;
  chosen_.insert(path);
  return path;
}

QString RandomWalk::words() {
  static const std::vector<QString> all{QStringLiteral("Regen, 2. Lauf"),
                                        QStringLiteral("<img src=x><b>fett</b>"),
                                        QStringLiteral("=1+1"),
                                        QStringLiteral("../../oben"),
                                        QStringLiteral("\u00e4\u00f6\u00fc \u00df \u2028 \"'`"),
                                        QString(200, QLatin1Char('n')),
                                        QString(),
                                        QStringLiteral(" "),
                                        QStringLiteral("%1 %2 %n"),
                                        QStringLiteral("a\nb\tc")};
  return chance(0.3) ? numberAsTyped() : any(all);
}

QString RandomWalk::numberAsTyped() {
  static const std::vector<QString> odd{
      QStringLiteral("1e308"), QStringLiteral("-1e308"), QStringLiteral("nan"),
      QStringLiteral("inf"),   QStringLiteral("0"),      QStringLiteral("-0"),
      QStringLiteral("1,5"),   QStringLiteral("1.2.3"),  QStringLiteral("999999999999"),
      QStringLiteral("-"),     QStringLiteral("all"),    QStringLiteral("0.0000001")};
  if (chance(0.2)) return any(odd);
  const double scale = chance(0.3) ? 100.0 : 5.0;
  return QString::number((below(2001) - 1000) / 1000.0 * scale, 'f', below(3));
}

template <class W>
std::vector<W*> RandomWalk::seen() const {
  std::vector<W*> all;
  for (W* w : window_.findChildren<W*>())
    if (w->isVisible() && w->isEnabled() && !w->size().isEmpty()) all.push_back(w);
  return all;
}

void RandomWalk::trigger() {
  std::vector<QAction*> all;
  for (QAction* a : window_.findChildren<QAction*>()) {
    if (mayTrigger(*a) && !a->text().isEmpty()) all.push_back(a);
  }
  if (all.empty()) return;
  QAction* a = any(all);
  // Menus are filled as they open.
  if (auto* menu = qobject_cast<QMenu*>(a->parent()); menu && chance(0.5)) {
    Q_EMIT menu->aboutToShow();
    std::vector<QAction*> open;
    for (QAction* b : menu->actions())
      if (mayTrigger(*b)) open.push_back(b);
    if (open.empty()) return;
    a = any(open);
  }
  say(QStringLiteral("action"), a->text());
  a->trigger();
}

void RandomWalk::press() {
  const auto all = seen<QAbstractButton>();
  if (all.empty()) return;
  QAbstractButton* b = any(all);
  say(QStringLiteral("press"), called(*b) + QLatin1Char(' ') + b->text());
  const int times = chance(0.1) ? 5 : 1;
  const QPointer<QAbstractButton> alive(b);
  for (int i = 0; i < times && alive && alive->isVisible() && alive->isEnabled(); ++i)
    QTest::mouseClick(alive, Qt::LeftButton);
}

void RandomWalk::type() {
  std::vector<QWidget*> all;
  for (auto* w : seen<QAbstractSpinBox>()) all.push_back(w);
  for (auto* w : seen<QLineEdit>()) all.push_back(w);
  for (auto* w : seen<QPlainTextEdit>()) all.push_back(w);
  if (all.empty()) return;
  const QPointer<QWidget> w(any(all));
  if (auto* spin = qobject_cast<QAbstractSpinBox*>(w); spin && chance(0.4)) {
    const bool up = chance(0.5);
    say(QStringLiteral("spin"), called(*w) + (up ? QStringLiteral(" up") : QStringLiteral(" down")));
    up ? spin->stepUp() : spin->stepDown();
    return;
  }
  const QString text = qobject_cast<QAbstractSpinBox*>(w) || chance(0.3) ? numberAsTyped() : words();
  say(QStringLiteral("type"), QStringLiteral("%1 \"%2\"").arg(called(*w), text));
  w->setFocus();
  if (chance(0.8)) QTest::keyClick(w, Qt::Key_A, Qt::ControlModifier);
  if (auto* plain = qobject_cast<QPlainTextEdit*>(w)) {
    plain->insertPlainText(text);
  } else if (auto* line = qobject_cast<QLineEdit*>(w)) {
    line->insert(text);
  } else {
    QTest::keyClicks(w, text);
  }
  if (w && chance(0.8)) QTest::keyClick(w, chance(0.8) ? Qt::Key_Return : Qt::Key_Tab);
}

void RandomWalk::choose() {
  const auto all = seen<QComboBox>();
  if (all.empty()) return;
  QComboBox* box = any(all);
  if (box->count() == 0) return;
  const int row = below(box->count());
  say(QStringLiteral("choose"), QStringLiteral("%1 %2").arg(called(*box)).arg(row));
  const QPointer<QComboBox> alive(box);
  box->setCurrentIndex(row);
  if (alive) Q_EMIT alive->activated(row);
}

void RandomWalk::cell() {
  std::vector<QAbstractItemView*> all;
  for (auto* v : seen<QAbstractItemView>())
    if (v->model() && v->model()->rowCount() > 0 && v->model()->columnCount() > 0) all.push_back(v);
  if (all.empty()) return;
  const QPointer<QAbstractItemView> view(any(all));
  const QModelIndex index = view->model()->index(below(view->model()->rowCount()), below(view->model()->columnCount()));
  const int way = below(5);
  const QString text = chance(0.7) ? numberAsTyped() : words();
  say(QStringLiteral("cell"), QStringLiteral("%1 row %2 column %3 way %4 \"%5\"")
                                  .arg(called(*view))
                                  .arg(index.row())
                                  .arg(index.column())
                                  .arg(way)
                                  .arg(text));
  view->scrollTo(index);
  const QPoint at = view->visualRect(index).center();
  if (!view->viewport()->rect().contains(at)) return;
  if (way == 4) {
    QTest::mouseClick(view->viewport(), Qt::RightButton, {}, at);
    return;
  }
  QTest::mouseClick(view->viewport(), Qt::LeftButton, {}, at);
  if (way == 0 || !view) return;
  if (way == 1)
    QTest::mouseDClick(view->viewport(), Qt::LeftButton, {}, at);
  else
    QTest::keyClick(view, Qt::Key_F2);
  if (!view) return;
  if (auto* editor = view->viewport()->findChild<QLineEdit*>(); editor && editor->isVisible()) {
    editor->selectAll();
    editor->insert(text);
    QTest::keyClick(editor, chance(0.8) ? Qt::Key_Return : Qt::Key_Escape);
  }
}

void RandomWalk::drag() {
  std::vector<QWidget*> all;
  for (auto* w : seen<DrawingView>()) all.push_back(w);
  if (all.empty() || chance(0.3))
    for (auto* w : seen<QWidget>())
      if (w->width() > 20 && w->height() > 20) all.push_back(w);
  if (all.empty()) return;
  const QPointer<QWidget> w(any(all));
  const auto place = [&] { return QPoint(below(w->width()), below(w->height())); };
  const Qt::MouseButton button = chance(0.8) ? Qt::LeftButton : chance(0.5) ? Qt::MiddleButton : Qt::RightButton;
  say(QStringLiteral("drag"), called(*w));
  QTest::mousePress(w, button, {}, place());
  for (int i = below(5); i > 0 && w; --i) {
    const QPoint at = place();
    QMouseEvent move(QEvent::MouseMove, QPointF(at), QPointF(w->mapToGlobal(at)), Qt::NoButton, button, {});
    QApplication::sendEvent(w, &move);
  }
  if (w) QTest::mouseRelease(w, button, {}, place());
  if (w && chance(0.2)) QTest::mouseDClick(w, button, {}, place());
}

void RandomWalk::turnWheel() {
  const auto all = seen<QWidget>();
  if (all.empty()) return;
  const QPointer<QWidget> w(any(all));
  const QPoint at(below(w->width()), below(w->height()));
  const Qt::KeyboardModifiers with = chance(0.3)   ? Qt::ControlModifier
                                     : chance(0.3) ? Qt::ShiftModifier
                                                   : Qt::NoModifier;
  say(QStringLiteral("wheel"), called(*w));
  for (int i = chance(0.1) ? 20 : 1 + below(3); i > 0 && w; --i) {
    QWheelEvent turn(QPointF(at), QPointF(w->mapToGlobal(at)), {}, {0, chance(0.5) ? 120 : -120}, Qt::NoButton, with,
                     Qt::NoScrollPhase, false);
    QApplication::sendEvent(w, &turn);
  }
}

void RandomWalk::slide() {
  const auto all = seen<QSlider>();
  if (all.empty()) return;
  QSlider* s = any(all);
  say(QStringLiteral("slide"), called(*s));
  const QPointer<QSlider> alive(s);
  for (int i = 1 + below(4); i > 0 && alive; --i)
    alive->setValue(alive->minimum() + below(alive->maximum() - alive->minimum() + 1));
}

void RandomWalk::strike() {
  static const std::vector<Qt::Key> keys{
      Qt::Key_Up,   Qt::Key_Down,   Qt::Key_Left,  Qt::Key_Right, Qt::Key_Tab,    Qt::Key_Return,   Qt::Key_Escape,
      Qt::Key_Plus, Qt::Key_Minus,  Qt::Key_Space, Qt::Key_F9,    Qt::Key_Delete, Qt::Key_PageDown, Qt::Key_PageUp,
      Qt::Key_Home, Qt::Key_End,    Qt::Key_F,     Qt::Key_R,     Qt::Key_L,      Qt::Key_B,        Qt::Key_1,
      Qt::Key_0,    Qt::Key_Period, Qt::Key_F2,    Qt::Key_F1,    Qt::Key_Backtab};
  static const std::vector<Qt::KeyboardModifiers> with{Qt::NoModifier,    Qt::NoModifier,      Qt::NoModifier,
                                                       Qt::ShiftModifier, Qt::ControlModifier, Qt::AltModifier};
  QWidget* focus = QApplication::focusWidget();
  QWidget* w = focus && focus->window() == &window_ ? focus : &window_;
  const Qt::Key key = any(keys);
  const Qt::KeyboardModifiers modifiers = any(with);
  const QPointer<QWidget> target(w);
  say(QStringLiteral("key"), QStringLiteral("%1 on %2").arg(QKeySequence(modifiers | key).toString(), called(*w)));
  for (int i = chance(0.15) ? 8 : 1; i > 0 && target; --i) QTest::keyClick(target, key, modifiers);
}

void RandomWalk::openFile() {
  const QString path = fileToOpen();
  if (path.isEmpty()) return;
  say(QStringLiteral("open"), path);
  window_.open(path);
}

void RandomWalk::undoSome() {
  const bool redo = chance(0.4);
  const int times = 1 + below(6);
  say(redo ? QStringLiteral("redo") : QStringLiteral("undo"), QString::number(times));
  for (int i = 0; i < times; ++i)
    QTest::keyClick(&window_, redo ? Qt::Key_Z : Qt::Key_Z,
                    redo ? Qt::ControlModifier | Qt::ShiftModifier : Qt::KeyboardModifiers(Qt::ControlModifier));
}

void RandomWalk::resize() {
  const QSize to(1100 + below(900), 640 + below(500));
  say(QStringLiteral("resize"), QStringLiteral("%1x%2").arg(to.width()).arg(to.height()));
  window_.resize(to);
}

void RandomWalk::step() {
  ++steps_;
  const QScopedValueRollback stepping(stepping_, true);
  kind_.clear();
  TimedApplication::takeLongest();
  looped_ = false;
  std::optional<StallWatch::Act> act_now(std::in_place, stalls_);
  clock_.start();
  const int what = below(100);
  if (what < 14) {
    trigger();
  } else if (what < 38) {
    press();
  } else if (what < 52) {
    type();
  } else if (what < 58) {
    choose();
  } else if (what < 72) {
    cell();
  } else if (what < 78) {
    drag();
  } else if (what < 82) {
    turnWheel();
  } else if (what < 86) {
    slide();
  } else if (what < 93) {
    strike();
  } else if (what < 95) {
    openFile();
  } else if (what < 99) {
    undoSome();
  } else {
    resize();
  }
  const qint64 acted = clock_.elapsed();
  QApplication::processEvents(QEventLoop::AllEvents, 1000);
  act_now.reset();
  // An action is no event: what it does at once is found by its own clock.
  const TimedApplication::Busy busy = TimedApplication::takeLongest();
  const bool act = kind_ == QStringLiteral("action") && acted > busy.ms && !looped_;
  const qint64 ms = act ? acted : busy.ms;
  if (auto& slow = slowest_[kind_ + QLatin1Char(' ') + what_.section(QLatin1Char(' '), 0, 0)]; ms > slow.ms)
    slow = {ms, steps_, QStringLiteral("%1: %2").arg(what_, act ? QStringLiteral("in the action") : busy.with)};
  // Now and then the hand rests, and what is computed elsewhere arrives.
  if (chance(0.05)) wait(below(60));
}

std::string RandomWalk::undoneAndRedone() {
  window_.keepTyped();
  std::string wrong;
  const auto there_and_back = [&](QUndoStack& stack, const char* name, const auto& state) {
    const int at = stack.index();
    for (int i = 0; i < 3; ++i) {
      const std::string before = state(window_);
      while (stack.index() > 0) {
        const int was = stack.index();
        stack.undo();
        if (stack.index() >= was) break;
      }
      while (stack.index() < at && stack.canRedo()) {
        const int was = stack.index();
        stack.redo();
        if (stack.index() <= was) break;
      }
      if (stack.index() != at) wrong += std::string(name) + ": the stack does not come back\n";
      if (const std::string after = state(window_); after != before) {
        wrong += std::string(name) + " differs after undoing and redoing all\n";
        QFile a(folder_ + QStringLiteral("/before-") + QLatin1String(name)),
            b(folder_ + QStringLiteral("/after-") + QLatin1String(name));
        if (a.open(QIODevice::WriteOnly)) a.write(QByteArray::fromStdString(before));
        if (b.open(QIODevice::WriteOnly)) b.write(QByteArray::fromStdString(after));
        break;
      }
    }
  };
  say(QStringLiteral("undo all"), {});
  there_and_back(window_.document().undoStack(), "setup", written);
  there_and_back(window_.bench().model().undoStack(), "bench", writtenRun);
  there_and_back(window_.track().model().undoStack(), "log", writtenLog);
  return wrong;
}

}  // namespace lowkite::app
