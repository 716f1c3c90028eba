// The guide in the program: searchable, and open at the page of whatever has the focus.
#pragma once

#include <QDialog>

#include "app/help/guide_text.h"

class QLineEdit;
class QListWidget;
class QTextBrowser;

namespace lowkite::app {

class GuideWindow : public QDialog {
  Q_OBJECT
 public:
  explicit GuideWindow(QWidget* parent);

  /// The section that tells about a widget, by its name or that of what it stands in; the first where none does.
  [[nodiscard]] static QString sectionFor(const QWidget* focus);
  /// Shows a section by its heading in English.
  void open(const QString& section);
  [[nodiscard]] QString section() const;

 private:
  void show(int row);
  void find(const QString& words);

  QList<GuideSection> sections_;
  QStringList shown_;  ///< the text of each, in the language that the window speaks
  QLineEdit* words_;
  QListWidget* list_;
  QTextBrowser* page_;
};

}  // namespace lowkite::app
