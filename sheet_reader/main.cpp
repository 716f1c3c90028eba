// lowkite-sheet-reader: the fields, words and pictures of a PDF sheet as JSON, and the sheet filled in.
//
//   lowkite-sheet-reader read FILE [DOTS_PER_INCH]
//     JSON on standard output; core/sheets/form.hpp says what is taken of it.
//   lowkite-sheet-reader fill FILE < VALUES
//     The filled PDF on standard output.
//     VALUES: {"fields": [{"number": 3, "text": "1.5"}, {"number": 4, "tick": true}]}
//
// A program of its own because PDF files come from anywhere: what breaks or hangs here is one short-lived process with
// a bound on its time and memory. It opens no file but the one named, and writes none.
#include <sys/resource.h>

#include <array>
#include <cmath>
#include <cstdio>
#include <iostream>
#include <iterator>
#include <map>
#include <memory>
#include <optional>
#include <sstream>
#include <string>

#include <QBuffer>
#include <QByteArray>
#include <QCoreApplication>
#include <QFile>
#include <QFileInfo>
#include <QImage>

#include <poppler-form.h>
#include <poppler-qt6.h>
#include <nlohmann/json.hpp>
#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

namespace {

using Json = nlohmann::json;

/// What the window tells the racer for each (app/document/sheet_file.cpp).
enum Exit : int { done = 0, usage = 1, no_pdf = 2, locked = 3, too_large = 4, not_written = 5 };

constexpr qint64 largest_file = 60'000'000;  // bytes
constexpr int most_pages = 12;
constexpr int most_fields = 2000;
constexpr int most_words = 20000;
constexpr qsizetype longest_text = 4000;
constexpr double most_dots = 6e6;  // of one page's picture
constexpr rlim_t most_seconds = 20;
constexpr rlim_t most_memory = rlim_t{2} << 30;

void bound_this_process() {
  const rlimit seconds{most_seconds, most_seconds + 1};
  setrlimit(RLIMIT_CPU, &seconds);
#ifndef __SANITIZE_ADDRESS__  // which maps the whole of memory for its own ends
  const rlimit memory{most_memory, most_memory};
  setrlimit(RLIMIT_AS, &memory);
#endif
}

std::string text_of(const QString& text) {
  return text.left(longest_text).toStdString();
}

Json box_of(const QRectF& r) {
  return Json::array({r.left(), r.top(), r.right(), r.bottom()});
}

/// The file with what Poppler needs to write into fields and some writers leave out: the form's own fonts. Without them
/// Poppler 22.12 falls over. Empty where there is nothing to add, or it cannot be done.
QByteArray with_fonts(const QString& path) {
  try {
    QPDF pdf;
    pdf.setSuppressWarnings(true);
    pdf.processFile(path.toLocal8Bit().constData());
    QPDFObjectHandle form = pdf.getRoot().getKey("/AcroForm");
    if (!form.isDictionary()) return {};
    QPDFObjectHandle resources = form.getKey("/DR");
    if (resources.isDictionary() && resources.getKey("/Font").isDictionary()) return {};
    if (!resources.isDictionary()) {
      form.replaceKey("/DR", QPDFObjectHandle::newDictionary());
      resources = form.getKey("/DR");
    }
    const QPDFObjectHandle font = pdf.makeIndirectObject(
        QPDFObjectHandle::parse("<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>"));
    QPDFObjectHandle fonts = QPDFObjectHandle::newDictionary();
    fonts.replaceKey("/Helv", font);
    // Fields name a font in their own way: "/Times-Roman 12 Tf 0 g".
    for (QPDFObjectHandle& object : pdf.getAllObjects()) {
      if (!object.isDictionary() || !object.getKey("/DA").isString()) continue;
      std::istringstream words(object.getKey("/DA").getStringValue());
      for (std::string word, before, second; words >> word; second = before, before = word)
        if (word == "Tf" && second.size() > 1 && second.front() == '/') fonts.replaceKey(second, font);
    }
    resources.replaceKey("/Font", fonts);
    if (!form.getKey("/DA").isString()) form.replaceKey("/DA", QPDFObjectHandle::newString("/Helv 10 Tf 0 g"));
    QPDFWriter writer(pdf);
    writer.setOutputMemory();
    writer.setStaticID(false);
    writer.write();
    const std::unique_ptr<Buffer> bytes(writer.getBuffer());
    return {reinterpret_cast<const char*>(bytes->getBuffer()), static_cast<qsizetype>(bytes->getSize())};
  } catch (const std::exception&) {
    return {};
  }
}

/// Every field of the document in the order in which both commands number them.
template <typename Each>
void each_field(const Poppler::Document& document, const Each& each) {
  int number = 0;
  for (int page = 0; page < document.numPages() && page < most_pages; ++page) {
    const std::unique_ptr<Poppler::Page> p(document.page(page));
    if (!p) continue;
    for (const auto& field : p->formFields()) {
      if (number >= most_fields) return;
      each(number++, page, *field);
    }
  }
}

/// None for what nobody fills in: buttons that do something, signatures.
std::optional<Json> described(int number, int page, const Poppler::FormField& field) {
  if (!field.isVisible()) return std::nullopt;
  QString name = field.fullyQualifiedName();
  if (name.isEmpty()) name = field.name();
  if (name.isEmpty()) name = QStringLiteral("field %1").arg(number + 1);
  Json j{{"number", number},
         {"page", page},
         {"at", box_of(field.rect())},
         {"name", text_of(name)},
         {"told", text_of(field.uiName())},
         {"read_only", field.isReadOnly()}};
  if (const auto* text = dynamic_cast<const Poppler::FormFieldText*>(&field)) {
    if (text->isPassword()) return std::nullopt;
    j["kind"] = "text";
    j["text"] = text_of(text->text());
    return j;
  }
  if (const auto* button = dynamic_cast<const Poppler::FormFieldButton*>(&field)) {
    if (button->buttonType() == Poppler::FormFieldButton::Push) return std::nullopt;
    j["kind"] = "box";
    j["option"] = text_of(button->caption());
    j["ticked"] = button->state();
    return j;
  }
  if (const auto* choice = dynamic_cast<const Poppler::FormFieldChoice*>(&field)) {
    j["kind"] = "choice";
    const QStringList choices = choice->choices();
    QStringList chosen;
    for (const int i : choice->currentChoices())
      if (i >= 0 && i < choices.size()) chosen << choices[i];
    if (chosen.isEmpty() && choice->isEditable()) chosen << choice->editChoice();
    j["text"] = text_of(chosen.join(QStringLiteral(", ")));
    j["choices"] = Json::array();
    for (const QString& c : choices) j["choices"].push_back(text_of(c));
    return j;
  }
  return std::nullopt;
}

/// The printed words of a page; what is filled into fields is none.
void add_words(Json& words, const Poppler::Page& page, int number) {
  const QSizeF size = page.pageSizeF();
  if (!(size.width() > 0.0) || !(size.height() > 0.0)) return;
  std::vector<QRectF> fields;
  for (const auto& field : page.formFields()) fields.push_back(field->rect());
  for (const auto& word : page.textList()) {
    if (words.size() >= most_words) return;
    const QRectF at = word->boundingBox();
    const QRectF r(at.left() / size.width(), at.top() / size.height(), at.width() / size.width(),
                   at.height() / size.height());
    const bool inside =
        std::any_of(fields.begin(), fields.end(), [&](const QRectF& f) { return f.contains(r.center()); });
    if (!inside) words.push_back({{"page", number}, {"at", box_of(r)}, {"text", text_of(word->text())}});
  }
}

Json page_of(const Poppler::Page& page, double dots_per_inch) {
  const QSizeF size = page.pageSizeF();  // points, 72 to an inch
  Json j{{"width", size.width()}, {"height", size.height()}};
  const double area = size.width() * size.height() / (72.0 * 72.0);
  if (dots_per_inch <= 0.0 || !(area > 0.0)) return j;
  const double dots = std::min(dots_per_inch, std::sqrt(most_dots / area));
  QByteArray png;
  QBuffer buffer(&png);
  buffer.open(QIODevice::WriteOnly);
  if (const QImage image = page.renderToImage(dots, dots); !image.isNull() && image.save(&buffer, "PNG"))
    j["picture"] = png.toBase64().toStdString();
  return j;
}

int read(const Poppler::Document& document, double dots_per_inch) {
  Json all{{"pages", Json::array()}, {"fields", Json::array()}, {"words", Json::array()}};
  for (int i = 0; i < document.numPages() && i < most_pages; ++i) {
    const std::unique_ptr<Poppler::Page> page(document.page(i));
    if (!page) return no_pdf;
    all["pages"].push_back(page_of(*page, dots_per_inch));
    add_words(all["words"], *page, i);
  }
  if (all["pages"].empty()) return no_pdf;
  each_field(document, [&](int number, int page, const Poppler::FormField& field) {
    if (auto j = described(number, page, field)) all["fields"].push_back(std::move(*j));
  });
  std::cout << all.dump(-1, ' ', false, Json::error_handler_t::replace) << std::flush;
  return std::cout ? done : not_written;
}

int fill(const Poppler::Document& document) {
  const std::string typed{std::istreambuf_iterator<char>(std::cin), {}};
  const Json values = Json::parse(typed, nullptr, false);
  if (!values.is_object() || !values.contains("fields") || !values["fields"].is_array()) return usage;
  std::map<int, Json> by_number;
  for (const Json& v : values["fields"])
    if (v.is_object() && v.contains("number") && v["number"].is_number_integer()) by_number[v["number"].get<int>()] = v;
  each_field(document, [&](int number, int, Poppler::FormField& field) {
    const auto found = by_number.find(number);
    if (found == by_number.end() || field.isReadOnly()) return;
    const Json& v = found->second;
    const bool tick = v.value("tick", Json(false)) == Json(true);
    const Json given = v.value("text", Json(""));
    const QString text = given.is_string() ? QString::fromStdString(given.get<std::string>()) : QString();
    if (auto* line = dynamic_cast<Poppler::FormFieldText*>(&field)) {
      const int most = line->maximumLength();
      line->setText(most > 0 ? text.left(most) : text);
    } else if (auto* button = dynamic_cast<Poppler::FormFieldButton*>(&field)) {
      // One of a group is let go when another is ticked.
      if (tick || button->buttonType() == Poppler::FormFieldButton::CheckBox) button->setState(tick);
    } else if (auto* choice = dynamic_cast<Poppler::FormFieldChoice*>(&field)) {
      if (const auto at = choice->choices().indexOf(text); at >= 0)
        choice->setCurrentChoices({static_cast<int>(at)});
      else if (choice->isEditable())
        choice->setEditChoice(text);
    }
  });
  QByteArray pdf;
  QBuffer buffer(&pdf);
  buffer.open(QIODevice::WriteOnly);
  const std::unique_ptr<Poppler::PDFConverter> converter(document.pdfConverter());
  converter->setOutputDevice(&buffer);
  converter->setPDFOptions(Poppler::PDFConverter::WithChanges);
  if (!converter->convert() || pdf.isEmpty()) return not_written;
  return std::fwrite(pdf.constData(), 1, static_cast<std::size_t>(pdf.size()), stdout) ==
                     static_cast<std::size_t>(pdf.size()) &&
                 std::fflush(stdout) == 0
             ? done
             : not_written;
}

}  // namespace

int main(int argc, char** argv) {
  const QCoreApplication application(argc, argv);
  const QStringList words = QCoreApplication::arguments();
  if (words.size() < 3 || (words[1] != QStringLiteral("read") && words[1] != QStringLiteral("fill"))) {
    std::fputs("usage: lowkite-sheet-reader read FILE [DOTS_PER_INCH] | fill FILE < VALUES\n", stderr);
    return usage;
  }
  bound_this_process();
  Poppler::setDebugErrorFunction([](const QString&, const QVariant&) {}, {});
  if (QFileInfo(words[2]).size() > largest_file) return too_large;
  try {
    const bool filling = words[1] == QStringLiteral("fill");
    const QByteArray mended = filling ? with_fonts(words[2]) : QByteArray();
    const std::unique_ptr<Poppler::Document> document =
        mended.isEmpty() ? Poppler::Document::load(words[2]) : Poppler::Document::loadFromData(mended);
    if (!document) return no_pdf;
    if (document->isLocked()) return locked;
    document->setRenderHint(Poppler::Document::Antialiasing);
    document->setRenderHint(Poppler::Document::TextAntialiasing);
    return filling ? fill(*document) : read(*document, words.size() > 3 ? words[3].toDouble() : 0.0);
  } catch (const std::exception&) {  // out of memory, as a rule
    return no_pdf;
  }
}
