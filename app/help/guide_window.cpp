#include "app/help/guide_window.h"

#include <array>

#include <QDesktopServices>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPointer>
#include <QTextBrowser>
#include <QTextCursor>
#include <QTextDocument>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/words/wording.h"

namespace lowkite::app {
namespace {

/// Object names and the section that tells about what carries them. The first that fits the nearest widget holds.
struct Told {
  const char* name;
  const char* section;
};
constexpr std::array told{
    Told{"recipe", "Recipe"},
    Told{"sheet", "Sheets of others"},
    Told{"sensitivity", "What moves a figure"},
    Told{"compare", "Compare and Setups"},
    Told{"setups", "Compare and Setups"},
    Told{"springs", "On its springs"},
    Told{"load", "On its springs"},
    Told{"steering", "Steering and lock"},
    Told{"gauges", "Gauges"},
    Told{"curves", "Curves"},
    Told{"construction", "The drawings"},
    Told{"check", "Check"},
    Told{"figures", "What the figures mean"},
    Told{"stage", "The drawings"},
    Told{"bump", "Bump, roll, steering and pitch"},
    Told{"roll", "Bump, roll, steering and pitch"},
    Told{"steer", "Bump, roll, steering and pitch"},
    Told{"pitch", "Bump, roll, steering and pitch"},
    Told{"sides", "Left and right"},
    Told{"drawer", "The window"},
    Told{"topLine", "The window"},
    Told{"bench", "On the bench"},
    Told{"car", "Your own car"},
    Told{"track", "Track"},
    Told{"keyList", "Keys"},
};

}  // namespace

QString GuideWindow::sectionFor(const QWidget* focus) {
  for (const QWidget* w = focus; w; w = w->parentWidget())
    for (const Told& t : told)
      if (w->objectName() == QLatin1String(t.name)) return QString::fromLatin1(t.section);
  return {};
}

GuideWindow::GuideWindow(QWidget* parent) : QDialog(parent), sections_(guideSections()) {
  setObjectName(QStringLiteral("guide"));
  setWindowTitle(tr("Guide"));
  resize(900, 640);
  auto* row = new QHBoxLayout(this);
  auto* left = new QVBoxLayout;
  words_ = new QLineEdit(this);
  words_->setObjectName(QStringLiteral("guide.words"));
  words_->setPlaceholderText(tr("Find in the guide"));
  words_->setAccessibleName(words_->placeholderText());
  words_->setClearButtonEnabled(true);
  list_ = new QListWidget(this);
  list_->setObjectName(QStringLiteral("guide.sections"));
  list_->setAccessibleName(tr("Sections of the guide"));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setFixedWidth(240);
  words_->setFixedWidth(240);
  left->addWidget(words_);
  left->addWidget(list_, 1);
  page_ = new QTextBrowser(this);
  page_->setObjectName(QStringLiteral("guide.page"));
  page_->setFrameShape(QFrame::NoFrame);
  page_->setOpenExternalLinks(false);
  page_->setOpenLinks(false);
  page_->setFont(textFont(15));
  row->addLayout(left);
  row->addWidget(page_, 1);
  for (const GuideSection& s : sections_) {
    list_->addItem(fromCore(s.heading.toStdString()));
    shown_ << saidInParagraphs(s.text);
    list_->item(list_->count() - 1)->setSizeHint({0, targetHeight - 6});
  }
  if (sections_.isEmpty()) page_->setPlainText(tr("The guide was not found beside the program."));
  connect(list_, &QListWidget::currentRowChanged, this, &GuideWindow::show);
  connect(words_, &QLineEdit::textChanged, this, &GuideWindow::find);
  list_->setCurrentRow(0);
}

QString GuideWindow::section() const {
  const int row = list_->currentRow();
  return row < 0 ? QString() : sections_[row].heading;
}

void GuideWindow::open(const QString& section) {
  words_->clear();
  for (int i = 0; i < sections_.size(); ++i)
    if (sections_[i].heading == section) list_->setCurrentRow(i);
  QDialog::show();
  raise();
  activateWindow();
}

void GuideWindow::show(int row) {
  if (row < 0 || row >= sections_.size()) return;
  // Read into a document that nobody looks at yet: a page on show is laid out anew for every line that comes in.
  auto* page = new QTextDocument(page_);
  page->setDefaultFont(page_->font());
  page->setMarkdown(QStringLiteral("## %1\n%2").arg(list_->item(row)->text(), shown_[row]));
  const QPointer<QTextDocument> before = page_->document();
  page_->setDocument(page);
  if (before && before->parent() == page_) before->deleteLater();
  if (const QString words = words_->text().trimmed(); !words.isEmpty()) page_->find(words);
}

void GuideWindow::find(const QString& words) {
  int first = -1;
  for (int i = 0; i < sections_.size(); ++i) {
    const bool has =
        list_->item(i)->text().contains(words, Qt::CaseInsensitive) || shown_[i].contains(words, Qt::CaseInsensitive);
    list_->item(i)->setHidden(!has);
    if (has && first < 0) first = i;
  }
  if (first >= 0 && (list_->currentRow() < 0 || list_->currentItem()->isHidden()))
    list_->setCurrentRow(first);
  else
    show(list_->currentRow());
}

}  // namespace lowkite::app
