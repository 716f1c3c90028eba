// Setup sheets in the window: real PDF files, read by the program that reads them, clicked, typed, taken over and
// filled in.
#include <random>

#include <QComboBox>
#include <QDir>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QProcess>
#include <QPushButton>
#include <QTableView>
#include <QTableWidget>

#include "app/document/open_files.h"
#include "app/document/sheet_file.h"
#include "app/plan/sheet/sheet_page.h"
#include "app/widgets/fault_panel.h"
#include "core/io/atomic_file.hpp"
#include "core/io/json_document.hpp"
#include "core/io/setup_family.hpp"
#include "tests/app/window_fixture.h"
#include "tests/sweeps.hpp"

namespace lowkite::app {
namespace {

using Page = PlanWorkspace::Page;

QString sheetPath(const char* name) {
  return QStringLiteral(LOWKITE_TEST_DATA) + QStringLiteral("/sheets/") + QLatin1String(name);
}
QString sampleSheet(const char* name) {
  return QStringLiteral(LOWKITE_TEST_SAMPLES) + QStringLiteral("/sheets/") + QLatin1String(name);
}

class SheetTest : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    openPage(Page::sheet);
    page_ = &window_->plan().sheet();
  }
  /// Opens a sheet by the page's own button and waits for the reader. False when it was refused.
  bool read(const QString& path) {
    bool opened = false, failed = false;
    const auto a = QObject::connect(&page_->work(), &SheetWork::opened, [&] { opened = true; });
    const auto b = QObject::connect(&page_->work(), &SheetWork::failed, [&] { failed = true; });
    page_->askSheetPath = [&] { return path; };
    click(QStringLiteral("sheet.open"));
    const bool answered = QTest::qWaitFor([&] { return opened || failed; }, 40'000);
    EXPECT_TRUE(answered) << path.toStdString();
    QObject::disconnect(a);
    QObject::disconnect(b);
    settle();
    return opened;
  }
  QTableView* table() { return find<QTableView>(QStringLiteral("sheet.table")); }
  int rowOf(const QString& title) {
    for (int row = 0; row < table()->model()->rowCount(); ++row)
      if (cell(row, SheetModel::field) == title) return row;
    ADD_FAILURE() << "no row " << title.toStdString();
    return 0;
  }
  QString cell(int row, int column) { return table()->model()->index(row, column).data(Qt::DisplayRole).toString(); }
  double value(const char* part) {
    const Document& d = window_->document();
    return d.setup().of(d.car().find_adjuster(part)).left;
  }
  SheetPage* page_ = nullptr;
};

// What the reader says of the shipped sheet is what the core's tests are run on.
TEST_F(SheetTest, TheReaderSaysWhatTheSamplesHold) {
  for (const auto& [pdf, sample] : {std::pair(sheetPath("tannery-sharper.pdf"), "tannery-sharper"),
                                    {sampleSheet("one-column.pdf"), "one-column"}}) {
    ASSERT_TRUE(read(pdf));
    const auto text = read_file(sampleSheet((std::string(sample) + ".form.json").c_str()).toStdString());
    const auto wanted = form_from_json(*text, sample);
    ASSERT_TRUE(wanted);
    const auto& fields = page_->work().fields();
    ASSERT_EQ(fields.size(), wanted->fields.size());
    for (std::size_t i = 0; i < fields.size(); ++i) {
      EXPECT_EQ(fields[i].name, wanted->fields[i].name);
      EXPECT_EQ(fields[i].text, wanted->fields[i].text);
      EXPECT_EQ(fields[i].label, wanted->fields[i].label);
      EXPECT_EQ(fields[i].option, wanted->fields[i].option);
    }
    ASSERT_EQ(page_->work().file().pages.size(), 1u);
    EXPECT_GT(page_->work().file().pages[0].width(), 800);
  }
}

TEST_F(SheetTest, ASheetIsTakenOverAsOneEdit) {
  const lowkite::Setup before = window_->document().setup();
  ASSERT_TRUE(read(sheetPath("tannery-calm.pdf")));
  EXPECT_EQ(cell(rowOf(QStringLiteral("Camber link, inner shims (front)")), SheetModel::comes),
            QStringLiteral("\u2713 2.5 mm"));
  EXPECT_TRUE(text(QStringLiteral("sheet.news")).startsWith(QStringLiteral("35 taken, 5 noted, ")))
      << text(QStringLiteral("sheet.news")).toStdString();
  click(QStringLiteral("sheet.take"));
  const lowkite::Setup& now = window_->document().setup();
  EXPECT_EQ(now.name, "Tannery, calm");
  EXPECT_EQ(now.track, "Old Tannery hall");
  EXPECT_EQ(now.based_on, before.based_on);
  EXPECT_EQ(value("rear_link_inner_shims"), 1.5);
  EXPECT_EQ(value("battery_place"), 1.0);
  EXPECT_EQ(now.wanted[0][0].camber_deg, -1.5);
  EXPECT_EQ(now.wanted[0][0].toe_deg, -0.5);
  ASSERT_TRUE(noted_under(now, "Tyres"));
  EXPECT_EQ(*noted_under(now, "Tyres"), "hall, 28 degrees");
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(window_->document().setup(), before);
}

// Filled in from the empty form and read again, by a second window's eyes: the same setup.
TEST_F(SheetTest, AFormIsFilledInAndReadsTheSame) {
  for (const QString& form : {sheetPath("tannery-calm.pdf"), sampleSheet("one-column.pdf")}) {
    ASSERT_TRUE(read(form));
    click(QStringLiteral("sheet.take"));
    const lowkite::Setup taken = window_->document().setup();
    const QString path = folder_.filePath(QStringLiteral("filled.pdf"));
    page_->askFilledPath = [&](const QString&) { return path; };
    QFile::remove(path);
    // From the sheet as it is: every field is written anew.
    click(QStringLiteral("sheet.fill"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return QFileInfo::exists(path); }, 30'000));
    key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(read(path));
    EXPECT_TRUE(text(QStringLiteral("sheet.news")).contains(QStringLiteral("Matched as last time")));
    click(QStringLiteral("sheet.take"));
    const lowkite::Setup& again = window_->document().setup();
    for (const PartHandle i : taken.values.handles())
      if (const Adjuster& a = window_->document().car().adjusters[i]; !a.threaded()) {
        EXPECT_EQ(again.values[i], taken.values[i]) << a.id;
      }
    EXPECT_EQ(again.ride_height_mm, taken.ride_height_mm);
    EXPECT_EQ(again.noted, taken.noted);
    EXPECT_EQ(again.name, taken.name);
  }
}

TEST_F(SheetTest, TheEmptyFormIsFilledWithTheSetupAtWork) {
  ASSERT_TRUE(read(sheetPath("tannery-calm.pdf")));
  click(QStringLiteral("sheet.take"));  // remembers what its fields stand for
  key(Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(read(sheetPath("tannery-empty.pdf")));
  EXPECT_GT(table()->model()->rowCount(), 40) << "an empty form shows all its fields";
  const QString path = folder_.filePath(QStringLiteral("mine.pdf"));
  page_->askFilledPath = [&](const QString&) { return path; };
  click(QStringLiteral("sheet.fill"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return QFileInfo::exists(path); }, 30'000));
  settle();
  EXPECT_TRUE(text(QStringLiteral("banner.text")).contains(QStringLiteral("mine.pdf")));
  ASSERT_TRUE(read(path));
  EXPECT_EQ(cell(rowOf(QStringLiteral("Name of setup")), SheetModel::says),
            QString::fromStdString(window_->document().setup().name));
  EXPECT_EQ(cell(rowOf(QStringLiteral("Camber link, inner shims (front)")), SheetModel::says),
            QString::number(value("front_link_inner_shims")));
  EXPECT_EQ(cell(rowOf(QStringLiteral("Shock oil (cSt) (front)")), SheetModel::says), QStringLiteral("400 cSt"));
}

// A contradiction and a hole that is not there: told in the line, led to, outlined on the paper.
TEST_F(SheetTest, QuestionsAreLedToOneByOne) {
  ASSERT_TRUE(read(sheetPath("tannery-sharper.pdf")));
  QStringList led;
  for (int i = 0; i < 3; ++i) {
    click(QStringLiteral("sheet.next"));
    led << cell(table()->currentIndex().row(), SheetModel::comes);
  }
  EXPECT_TRUE(led[0].startsWith(QStringLiteral("! these parts give"))) << led[0].toStdString();
  EXPECT_TRUE(led[1].contains(QStringLiteral("1.25 mm, the nearest"))) << led[1].toStdString();
  EXPECT_TRUE(led[2].contains(QStringLiteral("not taken: It can be 1, 2, 3"))) << led[2].toStdString();
  click(QStringLiteral("sheet.take"));
  EXPECT_EQ(
      value("rear_shock_upper_hole"),
      kit_setup(window_->document().car()).of(window_->document().car().find_adjuster("rear_shock_upper_hole")).left);
}

// Another choice in the table is taken at once, remembered, and offered for the next sheet of that kind.
TEST_F(SheetTest, AChoiceIsRememberedForTheNextSheet) {
  ASSERT_TRUE(read(sheetPath("tannery-calm.pdf")));
  const int row = rowOf(QStringLiteral("Body and wing (front)"));
  auto* model = table()->model();
  ASSERT_TRUE(
      model->setData(model->index(row, SheetModel::place), QStringLiteral("nothing: left alone"), Qt::EditRole));
  EXPECT_EQ(cell(row, SheetModel::comes), QString());
  EXPECT_FALSE(model->setData(model->index(row, SheetModel::place), QStringLiteral("no such place"), Qt::EditRole));
  ASSERT_TRUE(read(sheetPath("tannery-sharper.pdf")));
  EXPECT_EQ(cell(rowOf(QStringLiteral("Body and wing (front)")), SheetModel::place),
            QStringLiteral("nothing: left alone"));
  click(QStringLiteral("sheet.take"));
  EXPECT_FALSE(noted_under(window_->document().setup(), "Body and wing"));
  QFile::remove(sheetMatchesPath(page_->work().file().form));
}

// Keys alone: a row, its editor, letters that find a place.
TEST_F(SheetTest, APlaceIsChosenWithKeys) {
  ASSERT_TRUE(read(sheetPath("tannery-calm.pdf")));
  const int row = rowOf(QStringLiteral("Driver"));
  table()->setFocus();
  table()->setCurrentIndex(table()->model()->index(row, SheetModel::place));
  table()->edit(table()->currentIndex());
  settle();
  auto* box = table()->findChild<QComboBox*>();
  ASSERT_NE(box, nullptr);
  box->setCurrentText(QStringLiteral("Notes: why it was made"));
  QTest::keyClick(box, Qt::Key_Return);
  settle();
  EXPECT_EQ(cell(row, SheetModel::place), QStringLiteral("Notes: why it was made"));
  QFile::remove(sheetMatchesPath(page_->work().file().form));
}

// A photograph has no fields: what is read is typed beside it, and the line finds its place on the paper again.
TEST_F(SheetTest, APictureLiesBesideWhatIsTyped) {
  const QString path = folder_.filePath(QStringLiteral("photograph.png"));
  QImage paper(900, 1200, QImage::Format_RGB32);
  paper.fill(Qt::white);
  ASSERT_TRUE(paper.save(path));
  ASSERT_TRUE(read(path));
  EXPECT_TRUE(page_->work().isPicture());
  EXPECT_FALSE(find<QPushButton>(QStringLiteral("sheet.fill"))->isEnabled());
  auto* model = table()->model();
  const int row = rowOf(QStringLiteral("Front: camber link, inner ball"));
  EXPECT_EQ(model->index(row, SheetModel::place).flags() & Qt::ItemIsEditable, 0);
  ASSERT_TRUE(model->setData(model->index(row, SheetModel::says), QStringLiteral("1,25"), Qt::EditRole));
  EXPECT_EQ(cell(row, SheetModel::comes), QStringLiteral("\u2713 1.25 mm"));
  table()->setCurrentIndex(model->index(row, SheetModel::says));
  auto* view = find<SheetView>(QStringLiteral("sheet.view"));
  QTest::mouseClick(view->viewport(), Qt::LeftButton, {}, view->viewport()->rect().center());
  const FormField& f = page_->work().fields()[static_cast<std::size_t>(page_->work().fields().size() > 0 ? row : 0)];
  EXPECT_GT(f.at.right, f.at.left);
  click(QStringLiteral("sheet.take"));
  EXPECT_EQ(value("front_link_inner_shims"), 1.25);
  // Another car is asked for its own places; what both have stays typed.
  window_->take(openFile(QStringLiteral(LOWKITE_TEST_DATA "/cars/dunlin-4wd.kite-car.json")));
  settle();
  EXPECT_EQ(cell(rowOf(QStringLiteral("Front: camber link, inner ball")), SheetModel::says), QStringLiteral("1,25"));
}

TEST_F(SheetTest, AnotherCarIsAskedAnew) {
  ASSERT_TRUE(read(sheetPath("tannery-calm.pdf")));
  for (const char* id : {"plover-2wd", "wren-28", "sanderling-12", "godwit-ta", "dunlin-4wd"}) {
    window_->take(openFile(QStringLiteral(LOWKITE_TEST_DATA "/cars/%1.kite-car.json").arg(QLatin1String(id))));
    settle();
    const Document& d = window_->document();
    for (const SheetPlace& p : page_->work().places())
      ASSERT_LT(p.adjuster.number(), static_cast<int>(d.car().adjusters.size()));
    click(QStringLiteral("sheet.take"));
    EXPECT_EQ(d.setup().car_id, id);
    EXPECT_TRUE(fits(d.setup(), d.car()));
    EXPECT_EQ(d.setup().name, "Tannery, calm");
  }
}

TEST_F(SheetTest, WhatIsNoSheetIsToldByName) {
  const auto refused = [&](const QString& path) {
    EXPECT_FALSE(read(path)) << path.toStdString();
    auto* faults = find<FaultPanel>(QStringLiteral("faults"));
    EXPECT_TRUE(faults->isVisible());
    auto* rows = find<QTableWidget>(QStringLiteral("faults.table"));
    const QString told = rows->item(0, 0)->text() + QStringLiteral(": ") + rows->item(0, 2)->text();
    faults->hide();
    return told;
  };
  EXPECT_EQ(refused(sampleSheet("locked.pdf")), QStringLiteral("locked.pdf: it is locked with a password"));
  EXPECT_EQ(refused(QStringLiteral("/nowhere/sheet.pdf")), QStringLiteral("sheet.pdf: it cannot be opened"));
  EXPECT_EQ(refused(QStringLiteral(LOWKITE_TEST_DATA "/cars/heron-tc190.kite-car.json")),
            QStringLiteral("heron-tc190.kite-car.json: it could not be read as a sheet"));
  // What was open before still is.
  ASSERT_TRUE(read(sheetPath("tannery-calm.pdf")));
  const int rows = table()->model()->rowCount();
  (void)refused(sampleSheet("locked.pdf"));
  EXPECT_EQ(table()->model()->rowCount(), rows);
}

// Cut short and damaged at random: the reader may refuse, crash or be stopped; the window says so or shows what is
// left.
TEST_F(SheetTest, BrokenFilesTakeNothingAlong) {
  QFile whole(sampleSheet("one-column.pdf"));
  ASSERT_TRUE(whole.open(QIODevice::ReadOnly));
  const QByteArray good = whole.readAll();
  std::mt19937 random(20261128);
  const QString path = folder_.filePath(QStringLiteral("broken.pdf"));
  int opened = 0, refused = 0;
  for (int n = 0; n < 40; ++n) {
    QByteArray bytes = good;
    if (n < 10) {
      bytes.truncate(good.size() * n / 10);
    } else {
      for (int k = 0; k < 1 + n; ++k)
        bytes[static_cast<qsizetype>(random() % static_cast<unsigned>(bytes.size()))] = static_cast<char>(random());
    }
    QFile f(path);
    ASSERT_TRUE(f.open(QIODevice::WriteOnly));
    f.write(bytes);
    f.close();
    (read(path) ? opened : refused) += 1;
    find<FaultPanel>(QStringLiteral("faults"))->hide();
  }
  EXPECT_EQ(opened + refused, 40);
  EXPECT_GT(refused, 3);
  ASSERT_TRUE(read(sheetPath("tannery-calm.pdf")));
}

// A second sheet asked for while the first is being read: only the second comes.
TEST_F(SheetTest, OnlyTheLastSheetAskedForComes) {
  int opened = 0;
  QObject::connect(&page_->work(), &SheetWork::opened, [&] { ++opened; });
  for (const char* name : {"tannery-calm.pdf", "tannery-sharper.pdf", "tannery-empty.pdf"})
    page_->work().open(sheetPath(name));
  ASSERT_TRUE(QTest::qWaitFor([&] { return opened > 0; }, 30'000));
  QTest::qWait(300);
  EXPECT_EQ(opened, 1);
  EXPECT_TRUE(page_->work().file().path.endsWith(QStringLiteral("tannery-empty.pdf")));
}

// Also noted: typed in Setups, kept as one edit, in Compare, undone.
TEST_F(WindowTest, WhatIsNotedIsTypedInSetups) {
  openPage(Page::setups);
  click(QStringLiteral("setups.words.1"));
  auto* noted = find<QTableWidget>(QStringLiteral("setups.noted"));
  ASSERT_EQ(noted->rowCount(), 1);
  noted->item(0, 0)->setText(QStringLiteral("Body"));
  settle();
  EXPECT_TRUE(window_->document().setup().noted.empty()) << "half a line waits";
  noted->item(0, 1)->setText(QStringLiteral("low, wing flat"));
  settle();
  EXPECT_EQ(window_->document().setup().noted, (std::vector<NotedField>{{"Body", "low, wing flat"}}));
  ASSERT_EQ(noted->rowCount(), 2);
  openPage(Page::compare);
  settle();
  auto* compared = find<QTableWidget>(QStringLiteral("compare.table"));
  bool found = false;
  for (int row = 0; row < compared->rowCount(); ++row)
    found |= compared->item(row, 0)->text() == QStringLiteral("Body") && compared->item(row, 2) &&
             compared->item(row, 2)->text() == QStringLiteral("low, wing flat");
  EXPECT_TRUE(found);
  key(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_TRUE(window_->document().setup().noted.empty());
}

// A car made one's own takes its setups along, and says which do not fit.
TEST_F(WindowTest, ACopiedCarTakesItsSetupsAlong) {
  QDir(ownSetupsFolder()).removeRecursively();
  QDir().mkpath(ownSetupsFolder());
  const QString broken = ownSetupsFolder() + QStringLiteral("/broken.kite-setup.json");
  QFile f(broken);
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  f.write(R"({"format": "lowkite-setup", "version": 1, "car": "heron-tc190", "name": "Broken",
              "ride_height_mm": {"front": 5, "rear": 5}, "values": {"no_such_part": 1}})");
  f.close();
  window_->showWorkspace(MainWindow::Job::car);
  find<QLineEdit>(QStringLiteral("car.ownName"))->setText(QStringLiteral("Evening heron"));
  click(QStringLiteral("car.own"));
  settle();
  EXPECT_TRUE(text(QStringLiteral("banner.text")).contains(QStringLiteral("4 setups came along")))
      << text(QStringLiteral("banner.text")).toStdString();
  auto* faults = find<QTableWidget>(QStringLiteral("faults.table"));
  ASSERT_EQ(faults->rowCount(), 1);
  EXPECT_EQ(faults->item(0, 0)->text(), QStringLiteral("broken.kite-setup.json"));
  const Car& own = window_->document().car();
  const auto family = setup_family(own, {std::filesystem::path(ownSetupsFolder().toStdString())});
  ASSERT_EQ(family.size(), 5u);
  // The tree is the same one: a setup still hangs on the one that it was made from.
  EXPECT_TRUE(std::any_of(family.begin(), family.end(), [](const FamilyMember& m) { return m.depth == 3; }));
  for (std::size_t i = 1; i < family.size(); ++i) EXPECT_EQ(family[i].setup.car_id, own.id);
  QDir(ownSetupsFolder()).removeRecursively();
  QFile::remove(ownCarPath(QStringLiteral("Evening heron")));
}

}  // namespace
}  // namespace lowkite::app
