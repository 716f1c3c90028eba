#include "core/log/fields.hpp"

#include <array>
#include <chrono>
#include <cmath>
#include <regex>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/io/typed_text.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr double longest_text = 4000;
constexpr double longest_id = 120;
constexpr double longest_document = 4e6;

template <auto member>
struct Member;
template <class R, class T, T R::*member>
struct Member<member> {
  using Record = R;
  using Type = T;
};

template <auto member>
using RecordOf = typename Member<member>::Record;

template <auto member>
FieldValue get_text(const RecordOf<member>& r) {
  return r.*member;
}
template <auto member>
void set_text(RecordOf<member>& r, const FieldValue& v) {
  r.*member = std::holds_alternative<std::string>(v) ? std::get<std::string>(v) : std::string();
}
template <auto member>
FieldValue get_number(const RecordOf<member>& r) {
  return r.*member ? FieldValue(static_cast<double>(*(r.*member))) : FieldValue();
}
template <auto member>
void set_number(RecordOf<member>& r, const FieldValue& v) {
  using Number = typename Member<member>::Type::value_type;
  if (std::holds_alternative<double>(v))
    r.*member = static_cast<Number>(std::get<double>(v));
  else
    r.*member = std::nullopt;
}
template <auto member, auto list>
FieldValue get_word(const RecordOf<member>& r) {
  return std::string(id_in(list(), r.*member));
}
template <auto member, auto list>
void set_word(RecordOf<member>& r, const FieldValue& v) {
  const std::string id = std::holds_alternative<std::string>(v) ? std::get<std::string>(v) : std::string();
  r.*member = value_of(list(), id).value_or(list().front().value);
}
template <auto list>
std::vector<std::string_view> ids_of() {
  std::vector<std::string_view> ids;
  for (const auto& n : list()) ids.push_back(n.id);
  return ids;
}

constexpr bool always = true;
constexpr bool if_said = false;

template <auto member>
constexpr LogField<RecordOf<member>> text(std::string_view column, std::string_view csv, FieldKind kind, bool written,
                                          double most) {
  return {column, csv, kind, written, 0.0, most, nullptr, get_text<member>, set_text<member>};
}
template <auto member>
constexpr LogField<RecordOf<member>> number(std::string_view column, FieldKind kind, double least, double most) {
  return {column, column, kind, if_said, least, most, nullptr, get_number<member>, set_number<member>};
}
template <auto member, auto list>
constexpr LogField<RecordOf<member>> one_of(std::string_view column) {
  return {
      column, column, FieldKind::word, if_said, 0.0, 0.0, ids_of<list>, get_word<member, list>, set_word<member, list>};
}

using K = FieldKind;

constexpr auto day_table = std::to_array<LogField<Day>>({
    text<&Day::date>("date", "date", K::date, always, longest_text),
    text<&Day::track>("track", "track", K::text, always, longest_text),
    one_of<&Day::surface, surfaces>("surface"),
    one_of<&Day::grip, grips>("grip"),
    one_of<&Day::bumps, bump_kinds>("bumps"),
    number<&Day::air_celsius>("air_celsius", K::number, -40.0, 70.0),
    number<&Day::ground_celsius>("ground_celsius", K::number, -40.0, 90.0),
    number<&Day::humidity_percent>("humidity_percent", K::number, 0.0, 100.0),
    text<&Day::notes>("notes", "day_notes", K::text, if_said, longest_text),
});

constexpr auto run_table = std::to_array<LogField<Run>>({
    text<&Run::started>("started", "started", K::time, always, longest_text),
    text<&Run::car_id>("car", "car", K::text, always, longest_id),
    text<&Run::setup>("setup", "", K::document, if_said, longest_document),
    text<&Run::measured>("measured", "", K::document, if_said, longest_document),
    text<&Run::tyres>("tyres", "tyres", K::text, if_said, longest_text),
    number<&Run::tyre_runs>("tyre_runs", K::count, 0.0, 10000.0),
    text<&Run::additive>("additive", "additive", K::text, if_said, longest_text),
    text<&Run::battery>("battery", "battery", K::text, if_said, longest_text),
    number<&Run::length_s>("length_s", K::number, 0.0, 86400.0),
    text<&Run::broke>("broke", "broke", K::text, if_said, longest_text),
    text<&Run::marked_by>("marked_by", "marked_by", K::text, if_said, longest_text),
    text<&Run::notes>("notes", "notes", K::text, if_said, longest_text),
    one_of<&Run::verdict, verdicts>("verdict"),
});

template <class Record>
const LogField<Record>& by_column(std::span<const LogField<Record>> table, std::string_view column) {
  for (const LogField<Record>& f : table)
    if (f.column == column) return f;
  throw std::logic_error(fmt::format("the log keeps no field {}", column));
}

bool in_calendar(const std::string& text) {
  static const std::regex form(R"((\d{4})-(\d{2})-(\d{2}))");
  std::smatch part;
  if (!std::regex_match(text, part, form)) return false;
  const auto value = [&](std::size_t i) { return static_cast<unsigned>(std::stoul(part[i].str())); };
  return std::chrono::year_month_day(std::chrono::year(static_cast<int>(value(1))), std::chrono::month(value(2)),
                                     std::chrono::day(value(3)))
      .ok();
}

bool on_a_clock(const std::string& text) {
  static const std::regex form(R"(([01]\d|2[0-3]):[0-5]\d)");
  return text.empty() || std::regex_match(text, form);
}

}  // namespace

std::span<const LogField<Day>> day_fields() {
  return day_table;
}
std::span<const LogField<Run>> run_fields() {
  return run_table;
}
const LogField<Day>& day_field(std::string_view column) {
  return by_column<Day>(day_table, column);
}
const LogField<Run>& run_field(std::string_view column) {
  return by_column<Run>(run_table, column);
}

template <class Record>
bool LogField<Record>::empty(const Record& record) const {
  const FieldValue v = get(record);
  if (const auto* t = std::get_if<std::string>(&v)) return t->empty() || (words && *t == words().front());
  return std::holds_alternative<std::monostate>(v);
}

template <class Record>
std::optional<std::string> wrong_with(const LogField<Record>& field, const FieldValue& value) {
  const std::string* said = std::get_if<std::string>(&value);
  const double* v = std::get_if<double>(&value);
  switch (field.kind) {
    case FieldKind::date:
      if (said && in_calendar(*said)) return std::nullopt;
      return say("a day of the calendar as year-month-day, such as 2026-10-09");
    case FieldKind::time:
      if (said && on_a_clock(*said)) return std::nullopt;
      return say("hours:minutes, such as 14:35");
    case FieldKind::text:
    case FieldKind::document:
      if (said && static_cast<double>(said->size()) <= field.most) return std::nullopt;
      return say("at most {:.0f} letters", field.most);
    case FieldKind::number:
    case FieldKind::count:
      if (std::holds_alternative<std::monostate>(value)) return std::nullopt;
      if (v && *v >= field.least && *v <= field.most && (field.kind == FieldKind::number || *v == std::floor(*v)))
        return std::nullopt;
      return field.kind == FieldKind::count
                 ? say("a whole number from {least} to {most}", "least"_a = field.least, "most"_a = field.most)
                 : say("a number from {least} to {most}", "least"_a = field.least, "most"_a = field.most);
    case FieldKind::word: {
      const auto ids = field.words();
      if (said && std::find(ids.begin(), ids.end(), *said) != ids.end()) return std::nullopt;
      return say("one of {}", fmt::join(ids, ", "));
    }
  }
  return std::nullopt;
}

template <class Record>
std::string cell_of(const LogField<Record>& field, const FieldValue& value) {
  if (const auto* t = std::get_if<std::string>(&value)) return *t;
  const auto* v = std::get_if<double>(&value);
  if (!v) return {};
  return field.kind == FieldKind::count ? fmt::format("{:.0f}", *v) : fmt::format("{:.1f}", *v);
}

template <class Record>
std::optional<FieldValue> value_in(const LogField<Record>& field, const std::string& cell) {
  switch (field.kind) {
    case FieldKind::number:
    case FieldKind::count: {
      const std::string typed = trimmed(cell);
      if (typed.empty()) return FieldValue();
      const auto v = number_in(typed);
      return v ? std::optional<FieldValue>(*v) : std::nullopt;
    }
    case FieldKind::word:
      return FieldValue(cell.empty() ? std::string(field.words().front()) : cell);
    case FieldKind::time: {
      const std::string typed = trimmed(cell);
      return FieldValue(typed.size() == 4 ? "0" + typed : typed);  // 9:05
    }
    case FieldKind::date:
      return FieldValue(trimmed(cell));
    case FieldKind::text:
    case FieldKind::document:
      return FieldValue(cell);
  }
  return std::nullopt;
}

template <class Record>
std::optional<std::pair<std::string_view, std::string>> first_wrong(std::span<const LogField<Record>> fields,
                                                                    const Record& record) {
  for (const LogField<Record>& f : fields)
    if (auto allowed = wrong_with(f, f.get(record))) return std::pair(f.column, std::move(*allowed));
  return std::nullopt;
}

template struct LogField<Day>;
template struct LogField<Run>;
template std::optional<std::string> wrong_with(const LogField<Day>&, const FieldValue&);
template std::optional<std::string> wrong_with(const LogField<Run>&, const FieldValue&);
template std::string cell_of(const LogField<Day>&, const FieldValue&);
template std::string cell_of(const LogField<Run>&, const FieldValue&);
template std::optional<FieldValue> value_in(const LogField<Day>&, const std::string&);
template std::optional<FieldValue> value_in(const LogField<Run>&, const std::string&);
template std::optional<std::pair<std::string_view, std::string>> first_wrong(std::span<const LogField<Day>>,
                                                                             const Day&);
template std::optional<std::pair<std::string_view, std::string>> first_wrong(std::span<const LogField<Run>>,
                                                                             const Run&);

}  // namespace lowkite
