// The guide in the program: searchable, and open at the page of whatever has the focus.
#pragma once

#include <QDialog>

class QLineEdit;
class QListWidget;
class QTextBrowser;

namespace lowkite::app {

class GuideWindow : public QDialog {
  Q_OBJECT
 public:
  explicit GuideWindow(QWidget* parent);

  /// Where the guide lies: installed, or in the source tree.
  [[nodiscard]] static QString path();
  /// The section that tells about a widget, by its name or that of what it stands in; the first where none does.
  [[nodiscard]] static QString sectionFor(const QWidget* focus);
  /// Shows a section by its heading.
  void open(const QString& section);
  [[nodiscard]] QString section() const;

 private:
  void show(int row);
  void find(const QString& words);

  struct Section {
    QString heading;
    QString text;  ///< Markdown
  };
  QList<Section> sections_;
  QLineEdit* words_;
  QListWidget* list_;
  QTextBrowser* page_;
};

}  // namespace lowkite::app
