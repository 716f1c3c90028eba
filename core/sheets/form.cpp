#include "core/sheets/form.hpp"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <set>

#include <fmt/format.h>

#include "core/io/json_document.hpp"
#include "core/io/typed_text.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr std::size_t longest_form_text = 4000;
constexpr double word_gap = 0.025;     ///< of the page's width: further apart, two words are not of one label
constexpr double label_reach = 0.30;   ///< of the page's width, to the left
constexpr double above_reach = 0.035;  ///< of the page's height

std::string text_at(const Json& j, const char* key) {
  const auto found = j.find(key);
  if (found == j.end() || !found->is_string()) return {};
  const std::string text = found->get<std::string>();
  return text.size() <= longest_form_text ? text : std::string();
}

std::optional<PageBox> box_at(const Json& j) {
  const auto found = j.find("at");
  if (found == j.end() || !found->is_array() || found->size() != 4) return std::nullopt;
  std::array<double, 4> v{};
  for (std::size_t i = 0; i < v.size(); ++i) {
    if (!(*found)[i].is_number()) return std::nullopt;
    v[i] = (*found)[i].get<double>();
    if (!std::isfinite(v[i]) || v[i] < -1.0 || v[i] > 2.0) return std::nullopt;
  }
  return PageBox{std::min(v[0], v[2]), std::min(v[1], v[3]), std::max(v[0], v[2]), std::max(v[1], v[3])};
}

std::optional<int> page_at(const Json& j, int pages) {
  const auto found = j.find("page");
  if (found == j.end() || !found->is_number_integer()) return std::nullopt;
  const auto page = found->get<std::int64_t>();
  return page >= 0 && page < pages ? std::optional(static_cast<int>(page)) : std::nullopt;
}

std::optional<FormFieldKind> kind_at(const Json& j) {
  const std::string kind = text_at(j, "kind");
  if (kind == "text") return FormFieldKind::text;
  if (kind == "box") return FormFieldKind::box;
  if (kind == "choice") return FormFieldKind::choice;
  return std::nullopt;
}

/// What tick boxes are called by the programs that make them.
bool says_nothing(const std::string& option) {
  const std::vector<std::string> words = plain_words(option);
  static constexpr std::array<std::string_view, 5> empty_words{"yes", "on", "off", "true", "checked"};
  return words.size() != 1 || std::find(empty_words.begin(), empty_words.end(), words.front()) != empty_words.end();
}

bool on_one_line(const PageBox& a, const PageBox& b) {
  const double shared = std::min(a.bottom, b.bottom) - std::max(a.top, b.top);
  return shared > 0.4 * std::min(a.height(), b.height());
}

/// The words of one page in the order in which they are read.
using Words = std::vector<const FormWord*>;

std::string joined(Words words) {
  std::sort(words.begin(), words.end(), [](const FormWord* x, const FormWord* y) { return x->at.left < y->at.left; });
  std::string text;
  for (const FormWord* w : words) text += (text.empty() ? "" : " ") + w->text;
  while (!text.empty() && (text.back() == ':' || text.back() == '.' || text.back() == ' ' || text.back() == '_'))
    text.pop_back();
  return text;
}

/// Words before `x` on the line of `of`, as far back as they belong together; `fence`: other fields end them.
Words run_left(const Words& words, const std::vector<const FormField*>& fence, const PageBox& of, double x) {
  Words run;
  double edge = x;
  for (;;) {
    const FormWord* next = nullptr;
    for (const FormWord* w : words)
      if (on_one_line(w->at, of) && w->at.right <= edge + 0.01 && w->at.left < edge &&
          std::find(run.begin(), run.end(), w) == run.end() && (!next || w->at.right > next->at.right))
        next = w;
    if (!next || edge - next->at.right > (run.empty() ? label_reach : word_gap)) return run;
    for (const FormField* f : fence)
      if (on_one_line(f->at, of) && f->at.middle_x() < edge - 1e-6 && f->at.middle_x() > next->at.right - 0.01)
        return run;
    run.push_back(next);
    edge = next->at.left;
  }
}

Words run_right(const Words& words, const std::vector<const FormField*>& fence, const PageBox& of) {
  Words run;
  double edge = of.right;
  for (;;) {
    const FormWord* next = nullptr;
    for (const FormWord* w : words)
      if (on_one_line(w->at, of) && w->at.left >= edge - 0.01 && w->at.right > edge &&
          std::find(run.begin(), run.end(), w) == run.end() && (!next || w->at.left < next->at.left))
        next = w;
    if (!next || next->at.left - edge > word_gap) return run;
    for (const FormField* f : fence)
      if (on_one_line(f->at, of) && f->at.middle_x() > of.right && f->at.middle_x() < next->at.left) return run;
    run.push_back(next);
    edge = next->at.right;
  }
}

/// The line of words that stands nearest above.
Words run_above(const Words& words, const PageBox& of) {
  const FormWord* nearest = nullptr;
  for (const FormWord* w : words)
    if (w->at.bottom <= of.top + 0.3 * of.height() && of.top - w->at.bottom < above_reach && w->at.left < of.right &&
        w->at.right > of.left && (!nearest || w->at.bottom > nearest->at.bottom))
      nearest = w;
  Words run;
  if (!nearest) return run;
  for (const FormWord* w : words)
    if (on_one_line(w->at, nearest->at) && w->at.left < of.right + word_gap && w->at.right > of.left - word_gap)
      run.push_back(w);
  return run;
}

/// The words that stand at the box: behind it, or before it where the row is written that way.
std::string printed_option(const Words& words, const std::vector<const FormField*>& fields, const FormField& box) {
  const PageBox *first = &box.at, *last = &box.at;
  for (const FormField* f : fields)
    if (f->kind == FormFieldKind::box && f->name == box.name && on_one_line(f->at, box.at)) {
      if (f->at.left < first->left) first = &f->at;
      if (f->at.left > last->left) last = &f->at;
    }
  const Words before_first = run_left(words, fields, *first, first->left);
  const bool before = run_right(words, fields, *last).empty() && !before_first.empty() &&
                      first->left - before_first.front()->at.right < word_gap;
  return joined(before ? run_left(words, fields, box.at, box.at.left) : run_right(words, fields, box.at));
}

/// What a tick means: as it is printed, for that is what the racer ticked; the file's own word may be a mere count.
std::string option_of(const Words& words, const std::vector<const FormField*>& fields, const FormField& box) {
  if (std::string printed = printed_option(words, fields, box); !printed.empty()) return printed;
  std::set<std::string> group;
  for (const FormField* f : fields)
    if (f->kind == FormFieldKind::box && f->name == box.name) group.insert(f->option);
  bool counted = group.size() > 1;
  for (std::size_t i = 0; i < group.size(); ++i) counted = counted && group.contains(std::to_string(i));
  return counted ? std::string() : box.option;
}

/// What stands before the first box of the row: words that stand close behind another box are that box's own.
std::string group_label(const Words& words, const std::vector<const FormField*>& fields, const FormField& box) {
  const PageBox* first = &box.at;
  for (;;) {
    const Words run = run_left(words, fields, *first, first->left);
    const FormField* before = nullptr;
    for (const FormField* f : fields)
      if (f->kind == FormFieldKind::box && on_one_line(f->at, *first) && f->at.right <= first->left &&
          (!before || f->at.right > before->at.right))
        before = f;
    const double edge = run.empty() ? first->left : run.back()->at.left;
    if (!before || edge - before->at.right > word_gap) return joined(run);
    first = &before->at;
  }
}

std::optional<End> end_in(const std::string& word) {
  if (word == "front") return End::front;
  if (word == "rear" || word == "back") return End::rear;
  return std::nullopt;
}
std::optional<Side> side_in(const std::string& word) {
  if (word == "left" || word == "lh") return Side::left;
  if (word == "right" || word == "rh") return Side::right;
  return std::nullopt;
}

struct Where {
  std::optional<End> end;
  std::optional<Side> side;
};

/// What a name says: whole words first, then letters that have a counterpart among the other names ("camber_f" beside
/// "camber_r"; "fl" beside "rr").
Where where_by_name(const std::string& name, const std::set<std::vector<std::string>>& names) {
  Where w;
  const std::vector<std::string> words = plain_words(name);
  for (const std::string& word : words) {
    if (!w.end) w.end = end_in(word);
    if (!w.side) w.side = side_in(word);
  }
  const auto with = [&](std::size_t i, const char* other) {
    std::vector<std::string> changed = words;
    changed[i] = other;
    return names.contains(changed);
  };
  for (std::size_t i = 0; i < words.size(); ++i) {
    const std::string& word = words[i];
    if (word.size() == 2 && (word[0] == 'f' || word[0] == 'r') && (word[1] == 'l' || word[1] == 'r')) {
      if (with(i, word[1] == 'l' ? (word[0] == 'f' ? "fr" : "rr") : (word[0] == 'f' ? "fl" : "rl"))) {
        if (!w.end) w.end = word[0] == 'f' ? End::front : End::rear;
        if (!w.side) w.side = word[1] == 'l' ? Side::left : Side::right;
      }
      continue;
    }
    if (word == "f" && !w.end && with(i, "r")) w.end = End::front;
    if (word == "l" && !w.side && with(i, "r")) w.side = Side::left;
    if (word == "r") {
      if (!w.end && with(i, "f"))
        w.end = End::rear;
      else if (!w.side && with(i, "l"))
        w.side = Side::right;
    }
  }
  return w;
}

/// A word over a part of the sheet: it labels no field of its own line.
struct Heading {
  const FormWord* word;
  End end;
};

std::vector<Heading> headings_of(const Words& words, const std::vector<const FormField*>& fields) {
  std::vector<Heading> found;
  for (const FormWord* w : words) {
    const std::vector<std::string> plain = plain_words(w->text);
    if (plain.size() != 1) continue;
    const auto end = end_in(plain.front());
    if (!end) continue;
    const Words before = run_left(words, {}, w->at, w->at.left);
    const bool first = before.empty() || w->at.left - before.front()->at.right > word_gap;
    const Words after = run_right(words, {}, w->at);
    const double line_end = after.empty() ? w->at.right : after.back()->at.right;
    const bool labels = std::any_of(fields.begin(), fields.end(), [&](const FormField* f) {
      return on_one_line(f->at, w->at) && f->at.left >= line_end - 0.01 && f->at.left - line_end < word_gap;
    });
    if (first && !labels && after.size() <= 3) found.push_back({w, *end});
  }
  return found;
}

std::optional<End> heading_over(const std::vector<Heading>& headings, const PageBox& of) {
  constexpr double a_hair = 0.01;
  const Heading* best = nullptr;
  double least = 0.0;
  for (const Heading& h : headings) {
    const PageBox& at = h.word->at;
    if (at.left > of.middle_x() + a_hair || at.top > of.bottom) continue;
    const double cost = std::max(0.0, of.top - at.bottom) + std::max(0.0, of.left - at.left);
    if (!best || cost < least) {
      best = &h;
      least = cost;
    }
  }
  return best ? std::optional(best->end) : std::nullopt;
}

}  // namespace

const std::string& FormField::title() const {
  if (!told.empty()) return told;
  return label.empty() ? name : label;
}

std::vector<std::string> plain_words(const std::string& text) {
  enum class Kind { none, small, large, digit, other };
  const auto kind_of = [](unsigned char c) {
    if (std::isdigit(c)) return Kind::digit;
    if (std::isupper(c)) return Kind::large;
    if (std::islower(c) || c >= 0x80) return Kind::small;
    return Kind::other;
  };
  std::vector<std::string> words;
  Kind before = Kind::none;
  for (const char ch : text) {
    const Kind kind = kind_of(static_cast<unsigned char>(ch));
    if (kind != Kind::other) {
      const bool starts = before == Kind::none || before == Kind::other ||
                          (kind == Kind::digit) != (before == Kind::digit) ||
                          (kind == Kind::large && before == Kind::small);
      if (starts) words.emplace_back();
      words.back() += static_cast<char>(std::tolower(static_cast<unsigned char>(ch)));
    }
    before = kind;
  }
  return words;
}

void describe_fields(SheetForm& form) {
  std::set<std::vector<std::string>> names;
  for (const FormField& f : form.fields) names.insert(plain_words(f.name));
  for (int page = 0; page < form.pages; ++page) {
    Words words;
    for (const FormWord& w : form.words)
      if (w.page == page && w.text.find_first_not_of("_.") != std::string::npos) words.push_back(&w);
    std::vector<const FormField*> here;
    for (const FormField& f : form.fields)
      if (f.page == page) here.push_back(&f);
    const std::vector<Heading> headings = headings_of(words, here);
    std::vector<std::string> options;
    for (const FormField* f : here)
      options.push_back(f->kind == FormFieldKind::box ? option_of(words, here, *f) : std::string());
    std::size_t next = 0;
    for (FormField& f : form.fields) {
      if (f.page != page) continue;
      const std::string& option = options[next++];
      if (f.kind == FormFieldKind::box) {
        f.option = option;
        f.label = group_label(words, here, f);
      } else {
        Words run = run_left(words, here, f.at, f.at.left);
        if (run.empty()) run = run_above(words, f.at);
        f.label = joined(run);
      }
      const Where by_name = where_by_name(f.name, names);
      const std::vector<std::string> label = plain_words(f.told + " " + f.label);
      f.end = by_name.end;
      // "Rear ride height" speaks of the rear wherever it stands; "arm pin, front insert" does not speak of the front.
      if (!f.end && !label.empty()) f.end = end_in(label.front());
      if (!f.end) {
        f.end = heading_over(headings, f.at);
        f.end_by_heading = f.end.has_value();
      }
      f.side = by_name.side;
      for (const std::string& word : label) {
        if (!f.end) f.end = end_in(word);
        if (!f.side) f.side = side_in(word);
      }
    }
  }
}

std::string fingerprint(const SheetForm& form) {
  std::set<std::string> names;
  for (const FormField& f : form.fields) names.insert(f.name);
  // Fowler, Noll and Vo's hash FNV-1a of 64 bits (constants from memory).
  std::uint64_t hash = 0xcbf29ce484222325u;
  for (const std::string& name : names)
    for (const char c : name + '\n') hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001b3u;
  return fmt::format("{:016x}", hash);
}

tl::expected<SheetForm, Faults> form_from_json(const std::string& json, const std::string& file) {
  const auto document = parse_json(json, file);
  const auto no_form = [&] {
    return tl::unexpected(
        Faults{{file, {}, say("it could not be read as a sheet"), say("a PDF file with the fields of a form")}});
  };
  if (!document || !document->is_object()) return no_form();
  const auto pages = document->find("pages");
  if (pages == document->end() || !pages->is_array() || pages->empty()) return no_form();
  SheetForm form;
  form.file = file;
  form.pages = static_cast<int>(pages->size());
  if (const auto words = document->find("words"); words != document->end() && words->is_array())
    for (const Json& j : *words) {
      if (!j.is_object() || form.words.size() >= most_form_words) continue;
      const auto page = page_at(j, form.pages);
      const auto at = box_at(j);
      if (const std::string text = trimmed(text_at(j, "text")); page && at && !text.empty())
        form.words.push_back({*page, *at, text});
    }
  if (const auto fields = document->find("fields"); fields != document->end() && fields->is_array())
    for (const Json& j : *fields) {
      if (!j.is_object() || form.fields.size() >= most_form_fields) continue;
      const auto page = page_at(j, form.pages);
      const auto at = box_at(j);
      const auto kind = kind_at(j);
      FormField f;
      f.number = static_cast<int>(form.fields.size());
      if (const auto number = j.find("number"); number != j.end() && number->is_number_integer())
        f.number = static_cast<int>(std::clamp<std::int64_t>(number->get<std::int64_t>(), 0, 1 << 20));
      f.name = text_at(j, "name");
      if (!page || !at || !kind || f.name.empty()) continue;
      f.kind = *kind;
      f.page = *page;
      f.at = *at;
      f.option = trimmed(text_at(j, "option"));
      if (says_nothing(f.option)) f.option.clear();
      f.told = trimmed(text_at(j, "told"));
      f.text = trimmed(text_at(j, "text"));
      f.ticked = j.value("ticked", Json(false)) == Json(true);
      f.read_only = j.value("read_only", Json(false)) == Json(true);
      if (const auto choices = j.find("choices"); choices != j.end() && choices->is_array())
        for (const Json& c : *choices)
          if (c.is_string() && f.choices.size() < 200) f.choices.push_back(c.get<std::string>());
      form.fields.push_back(std::move(f));
    }
  describe_fields(form);
  return form;
}

}  // namespace lowkite
