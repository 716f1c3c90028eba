#include "app/document/sheet_file.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QImageReader>
#include <QProcess>
#include <QStandardPaths>
#include <QTimer>

#include "app/document/write_file.h"
#include "core/io/json_document.hpp"

namespace lowkite::app {
namespace {

constexpr int patience = 30'000;             // ms; the reader has 20 s of a processor
constexpr int dotsPerInch = 130;             // of the picture beside the table
constexpr qsizetype mostRead = 300'000'000;  // bytes of pictures and words
const QString reader = QStringLiteral("lowkite-sheet-reader");

struct SheetWords {
  Q_DECLARE_TR_FUNCTIONS(SheetWords)
};

/// Beside this program where it is built, in libexec where it is installed.
QString readerPath() {
  const QString here = QCoreApplication::applicationDirPath();
  const QString built = here + QLatin1Char('/') + reader;
  return QFileInfo::exists(built) ? built : here + QStringLiteral("/../libexec/lowkite/") + reader;
}

Fault faultOf(const QString& file, const QString& wrong, const QString& allowed) {
  return {file.toStdString(), {}, wrong.toStdString(), allowed.toStdString()};
}

/// What the reader's exit means (sheet_reader/main.cpp).
Fault faultOf(const QString& file, int exit) {
  constexpr int locked = 3, tooLarge = 4;
  if (exit == locked)
    return faultOf(file, SheetWords::tr("it is locked with a password"),
                   SheetWords::tr("a sheet that opens without one"));
  if (exit == tooLarge)
    return faultOf(file, SheetWords::tr("it is larger than any sheet"), SheetWords::tr("a file of at most 60 MB"));
  return faultOf(file, SheetWords::tr("it could not be read as a sheet"),
                 SheetWords::tr("a whole PDF file, or a picture as PNG or JPEG"));
}

std::vector<QImage> picturesIn(const std::string& json) {
  std::vector<QImage> pages;
  const auto j = parse_json(json, "sheet");
  if (!j || !j->is_object() || !j->contains("pages") || !(*j)["pages"].is_array()) return pages;
  for (const Json& page : (*j)["pages"]) {
    QImage image;
    if (page.is_object() && page.contains("picture") && page["picture"].is_string())
      image.loadFromData(QByteArray::fromBase64(QByteArray::fromStdString(page["picture"].get<std::string>())), "PNG");
    pages.push_back(image);
  }
  return pages;
}

}  // namespace

SheetFiles::~SheetFiles() {
  giveUp();
}

void SheetFiles::giveUp() {
  if (!process_) return;
  process_->disconnect(this);
  process_->kill();
  process_->waitForFinished(1000);
  process_->deleteLater();
  process_.clear();
}

void SheetFiles::run(const QStringList& arguments, const QByteArray& in, const QString& about,
                     std::function<void(tl::expected<QByteArray, Fault>)> done) {
  giveUp();
  auto* process = new QProcess(this);
  process_ = process;
  const auto finish = [this, process, done = std::move(done), about](bool crashed, int exit) {
    if (process_ != process) return;
    process_.clear();
    process->deleteLater();
    if (crashed || exit != 0)
      done(tl::unexpected(faultOf(about, crashed ? -1 : exit)));
    else
      done(process->readAllStandardOutput());
  };
  connect(process, &QProcess::finished, this,
          [finish](int exit, QProcess::ExitStatus status) { finish(status != QProcess::NormalExit, exit); });
  connect(process, &QProcess::errorOccurred, this, [finish](QProcess::ProcessError error) {
    if (error == QProcess::FailedToStart) finish(true, 0);
  });
  connect(process, &QProcess::readyReadStandardOutput, this, [process] {
    if (process->bytesAvailable() > mostRead) process->kill();
  });
  QTimer::singleShot(patience, process, [process] { process->kill(); });
  process->start(readerPath(), arguments);
  process->write(in);
  process->closeWriteChannel();
}

void SheetFiles::read(const QString& path, std::function<void(SheetFile)> take, std::function<void(Fault)> fail) {
  const QString name = QFileInfo(path).fileName();
  if (!QFileInfo(path).isReadable()) {
    fail(faultOf(name, tr("it cannot be opened"), tr("a file that is there and may be read")));
    return;
  }
  // What is no PDF may be a picture of a sheet.
  QImageReader pictures(path);
  if (pictures.canRead() && pictures.format() != "pdf") {
    giveUp();
    pictures.setAutoTransform(true);
    SheetFile sheet;
    sheet.path = path;
    sheet.form.file = name.toStdString();
    sheet.form.pages = 1;
    sheet.pages.push_back(pictures.read());
    if (sheet.pages.front().isNull())
      fail(faultOf(name, 2));
    else
      take(std::move(sheet));
    return;
  }
  run({QStringLiteral("read"), path, QString::number(dotsPerInch)}, {}, name,
      [=, take = std::move(take), fail = std::move(fail)](const tl::expected<QByteArray, Fault>& json) {
        if (!json) {
          fail(json.error());
          return;
        }
        const std::string text = json->toStdString();
        auto form = form_from_json(text, name.toStdString());
        if (!form) {
          fail(form.error().front());
          return;
        }
        take({path, std::move(*form), picturesIn(text)});
      });
}

void SheetFiles::fill(const QString& from, const SheetForm& form, const std::vector<SheetFill>& values,
                      const QString& to, std::function<void(tl::expected<void, Fault>)> done) {
  Json fields = Json::array();
  for (std::size_t i = 0; i < values.size() && i < form.fields.size(); ++i)
    if (values[i].known)
      fields.push_back({{"number", form.fields[i].number}, {"text", values[i].text}, {"tick", values[i].tick}});
  run({QStringLiteral("fill"), from}, QByteArray::fromStdString(Json{{"fields", std::move(fields)}}.dump()),
      QFileInfo(from).fileName(), [to, done = std::move(done)](const tl::expected<QByteArray, Fault>& pdf) {
        if (!pdf)
          done(tl::unexpected(pdf.error()));
        else
          done(writeFile(to, *pdf));
      });
}

QString sheetMatchesPath(const SheetForm& form) {
  return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/sheets/") +
         QString::fromStdString(fingerprint(form)) + QStringLiteral(".kite-sheet.json");
}

}  // namespace lowkite::app
