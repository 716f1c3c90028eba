// A setup sheet as a file: a PDF form, read and filled in by a program of its own (sheet_reader/), or a picture of one.
#pragma once

#include <functional>

#include <QImage>
#include <QObject>
#include <QPointer>

#include "core/io/fault.hpp"
#include "core/sheets/form.hpp"
#include "core/sheets/take_sheet.hpp"

class QProcess;

namespace lowkite::app {

struct SheetFile {
  QString path;
  SheetForm form;
  std::vector<QImage> pages;
};

class SheetFiles : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;
  ~SheetFiles() override;

  /// Reads a PDF or a picture beside the window; one at a time, a new one gives up the one before. `take` and `fail`
  /// are called in the window's thread.
  void read(const QString& path, std::function<void(SheetFile)> take, std::function<void(Fault)> fail);
  /// Fills the form in `from` with a value for each of its fields and writes it to `to`. `done`: nothing, or why not.
  void fill(const QString& from, const SheetForm& form, const std::vector<SheetFill>& values, const QString& to,
            std::function<void(tl::expected<void, Fault>)> done);
  [[nodiscard]] bool busy() const { return !process_.isNull(); }

 private:
  void run(const QStringList& arguments, const QByteArray& in, const QString& about,
           std::function<void(tl::expected<QByteArray, Fault>)> done);
  void giveUp();

  QPointer<QProcess> process_;
};

/// Where what fields stand for is remembered, and what is known of this form.
QString sheetMatchesPath(const SheetForm& form);

}  // namespace lowkite::app
