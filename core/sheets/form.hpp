// A setup sheet as somebody else laid it out: the fields of a form with the words that stand beside them.
//
// A form comes from the program that reads PDF files (see sheet_reader) as JSON. Nothing in it is trusted: sizes are
// bounded, and what is no field of ours is passed over.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "core/car/car.hpp"
#include "core/io/fault.hpp"

namespace lowkite {

/// A place on a page, in parts of its width and height from its upper left corner.
struct PageBox {
  double left = 0.0, top = 0.0, right = 0.0, bottom = 0.0;

  [[nodiscard]] double middle_x() const { return 0.5 * (left + right); }
  [[nodiscard]] double middle_y() const { return 0.5 * (top + bottom); }
  [[nodiscard]] double height() const { return bottom - top; }
};

struct FormWord {
  int page = 0;
  PageBox at;
  std::string text;
};

enum class FormFieldKind : std::uint8_t {
  text,
  box,  ///< a tick box, or one of a group of which one is ticked
  choice
};

struct FormField {
  int number = 0;      ///< among all of the file, for filling it in
  std::string name;    ///< as in the file; the boxes of a group may share it
  std::string option;  ///< boxes: what a tick stands for
  FormFieldKind kind = FormFieldKind::text;
  std::string told;  ///< what the form itself says of the field; may be empty
  std::string text;  ///< what is filled in
  bool ticked = false;
  std::vector<std::string> choices;
  bool read_only = false;
  int page = 0;
  PageBox at;
  /// Found by `describe_fields`.
  std::string label;       ///< the words that stand before it, or above
  std::optional<End> end;  ///< as its name, the heading over it or its label says
  bool end_by_heading = false;
  std::optional<Side> side;

  /// What to call it: what the form says, else its label, else its name.
  [[nodiscard]] const std::string& title() const;
  /// A dash alone is nothing.
  [[nodiscard]] bool filled() const { return kind == FormFieldKind::box ? ticked : !text.empty() && text != "-"; }
};

struct SheetForm {
  std::string file;
  int pages = 0;
  std::vector<FormField> fields;
  std::vector<FormWord> words;
};

/// Bounds of what is taken from a form.
constexpr std::size_t most_form_fields = 2000;
constexpr std::size_t most_form_words = 20000;

/// The form from what the reader of PDF files says of it, described. Fails where that is no form, with a sentence.
tl::expected<SheetForm, Faults> form_from_json(const std::string& json, const std::string& file);

/// Finds label, end and side of every field from its name and from the words around it.
void describe_fields(SheetForm& form);

/// Words in small letters, parted at everything that is no letter or digit, at capitals inside a word and between
/// letters and digits: "FrontCamber_L2" is front, camber, l, 2.
std::vector<std::string> plain_words(const std::string& text);

/// Tells forms with the same fields from others: the same for a form empty and filled in.
std::string fingerprint(const SheetForm& form);

}  // namespace lowkite
