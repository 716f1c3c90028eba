// A real window with the demo car, driven by real keys and clicks; widgets are found by their object names.
#pragma once

#include <memory>

#include <QAbstractItemModel>
#include <QAction>
#include <QTemporaryDir>
#include <QTest>

#include <gtest/gtest.h>

#include "app/drawing/axle_view.h"
#include "app/main_window.h"
#include "app/plan/plan_workspace.h"
#include "app/plan/read/figure_model.h"
#include "app/plan/ruler.h"

namespace lowkite::app {

class WindowTest : public testing::Test {
 protected:
  void SetUp() override;

  /// A fresh window on the same folders, as after a restart.
  std::unique_ptr<MainWindow> newWindow();

  template <class W>
  W* find(const QString& name) {
    auto* w = window_->findChild<W*>(name);
    EXPECT_NE(w, nullptr) << name.toStdString();
    return w;
  }
  void click(const QString& name);
  /// Opens a page of Plan's drawer by its button.
  void openPage(PlanWorkspace::Page page);
  /// Puts the drawer away.
  void putAway();
  /// The bench work on show, line after line.
  QString work();
  void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
  /// Runs the event loop until the derived figures are up to date.
  void settle();

  /// Puts the focus where the program puts it at the start: on the drawing.
  void focusDrawing();

  PlanModel& model() { return window_->plan().model(); }
  Document& document() { return window_->document(); }
  [[nodiscard]] PartHandle part(const char* id) { return document().car().find_adjuster(id); }
  [[nodiscard]] double value(const char* id, Side side = Side::left) {
    return document().setup().of(part(id)).on(side);
  }
  /// A cell of the figure table, as the racer reads it.
  [[nodiscard]] QString figure(const char* id, FigureModel::Column column);
  [[nodiscard]] QString difference(const char* id, FigureModel::Column column);
  [[nodiscard]] QString text(const QString& label);

  QTemporaryDir folder_;
  std::unique_ptr<MainWindow> window_;
};

QString dataPath(const QString& name);
/// The whole of a file; empty where there is none.
QByteArray contentOf(const QString& path);
void writeTo(const QString& path, const QByteArray& content);
/// What this process holds in memory, MB.
long residentMb();
/// A file that only tests use.
QString samplePath(const QString& name);

}  // namespace lowkite::app
