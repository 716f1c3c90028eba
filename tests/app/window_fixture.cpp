#include "tests/app/window_fixture.h"

#include <fstream>

#include <QAbstractButton>
#include <QDir>
#include <QFile>
#include <QLabel>
#include <QStandardPaths>
#include <QTableView>
#include <QTextDocument>

#include "app/document/open_files.h"
#include "app/kept/kept.h"

namespace lowkite::app {

QString dataPath(const QString& name) {
  return QStringLiteral(LOWKITE_TEST_DATA "/") + name;
}

QByteArray contentOf(const QString& path) {
  QFile f(path);
  return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
}

void writeTo(const QString& path, const QByteArray& content) {
  QFile f(path);
  ASSERT_TRUE(f.open(QIODevice::WriteOnly)) << path.toStdString();
  f.write(content);
}

QString samplePath(const QString& name) {
  return QStringLiteral(LOWKITE_TEST_SAMPLES "/") + name;
}

void WindowTest::SetUp() {
  // Of the test before nothing is left: neither settings nor cars, nor how a sheet was matched.
  Kept().clear();
  QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation)).removeRecursively();
  window_ = newWindow();
  ASSERT_TRUE(window_->take(openFile(dataPath(QStringLiteral("cars/heron-tc190.kite-car.json")))));
  window_->resize(1280, 800);
  window_->show();
  QApplication::setActiveWindow(window_.get());
  ASSERT_TRUE(QTest::qWaitForWindowExposed(window_.get()));
  settle();
  focusDrawing();
}

std::unique_ptr<MainWindow> WindowTest::newWindow() {
  auto w = std::make_unique<MainWindow>(folder_.filePath(QStringLiteral("autosave")));
  w->askUnsaved = [](const QString&) {
    ADD_FAILURE() << "the window asked about unsaved work";
    return MainWindow::Unsaved::cancel;
  };
  return w;
}

void WindowTest::click(const QString& name) {
  auto* button = find<QAbstractButton>(name);
  ASSERT_TRUE(button && button->isEnabled()) << name.toStdString();
  QTest::mouseClick(button, Qt::LeftButton);
  settle();
}

void WindowTest::openPage(PlanWorkspace::Page page) {
  if (window_->plan().drawer().page() != static_cast<int>(page))
    click(QStringLiteral("drawer.%1").arg(static_cast<int>(page)));
  settle();
}

void WindowTest::putAway() {
  if (window_->plan().drawer().isOpen()) click(QStringLiteral("drawer.away"));
}

QString WindowTest::work() {
  QStringList lines;
  for (int i = 0; i < 40; ++i) {
    const auto* line = window_->findChild<QLabel*>(QStringLiteral("work.line.%1").arg(i));
    if (!line || line->isHidden()) continue;
    QTextDocument plain;
    plain.setHtml(line->text());
    lines << plain.toPlainText().replace(QChar::Nbsp, QLatin1Char(' '));
  }
  return lines.join(QLatin1Char('\n'));
}

void WindowTest::key(Qt::Key k, Qt::KeyboardModifiers modifiers) {
  QWidget* target = QApplication::focusWidget() ? QApplication::focusWidget() : window_.get();
  QTest::keyClick(target, k, modifiers);
  settle();
}

void WindowTest::settle() {
  QApplication::processEvents();
  model().flush();
  QApplication::processEvents();
}

void WindowTest::focusDrawing() {
  find<QWidget>(QStringLiteral("axleView"))->setFocus();
  QApplication::processEvents();
}

QString WindowTest::figure(const char* id, FigureModel::Column column) {
  auto* table = find<QTableView>(QStringLiteral("figures.table"));
  auto* figures = qobject_cast<FigureModel*>(table->model());
  const int row = figures->rowOf(id);
  EXPECT_GE(row, 0) << id;
  return figures->index(row, column).data().toString();
}

QString WindowTest::difference(const char* id, FigureModel::Column column) {
  auto* figures = qobject_cast<FigureModel*>(find<QTableView>(QStringLiteral("figures.table"))->model());
  return figures->index(figures->rowOf(id), column).data(FigureModel::differenceRole).toString();
}

QString WindowTest::text(const QString& label) {
  return find<QLabel>(label)->text();
}

long residentMb() {
  std::ifstream in("/proc/self/statm");
  long all = 0, resident = 0;
  in >> all >> resident;
  return resident * 4096 / (1 << 20);
}

}  // namespace lowkite::app
