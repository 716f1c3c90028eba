// The one table of what is kept of a day and of a run: the name in every file and in the database, what a value may be,
// and where it stands in the record.
//
// SQL, JSON, the table of runs, the limits of the form and those of the published schema all walk it. A new field is a
// row here, and a step of the database's version in log_store.cpp. Laps and feelings are lists of their own.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/log/log.hpp"

namespace lowkite {

enum class FieldKind : std::uint8_t {
  date,     ///< a day of the calendar, "2026-10-09"
  time,     ///< "14:35", or empty
  text,     ///< anything up to `most` letters
  number,   ///< from `least` to `most`, or none
  count,    ///< the same, whole
  word,     ///< one of `words`; the first stands for "not said"
  document  ///< a file as text: a setup, a bench run
};

/// None, text (dates, times, words by their id, documents), or a number.
using FieldValue = std::variant<std::monostate, std::string, double>;

/// A field of a `Day` or a `Run`.
template <class Record>
struct LogField {
  std::string_view column;  ///< in SQL and JSON
  std::string_view csv;     ///< in the table of runs; empty: in none
  FieldKind kind;
  bool always;  ///< written into files even where nothing was said
  double least;
  double most;
  std::vector<std::string_view> (*words)();  ///< the ids, for a word
  FieldValue (*get)(const Record&);
  void (*set)(Record&, const FieldValue&);  ///< precondition: `wrong_with` finds nothing

  /// True where nothing was said.
  [[nodiscard]] bool empty(const Record& record) const;
};

std::span<const LogField<Day>> day_fields();
std::span<const LogField<Run>> run_fields();
/// By its column. Precondition: there is one.
const LogField<Day>& day_field(std::string_view column);
const LogField<Run>& run_field(std::string_view column);

/// What would be right, where the value is not; none where it is.
template <class Record>
std::optional<std::string> wrong_with(const LogField<Record>& field, const FieldValue& value);

/// A value as it stands in a cell of a table, and back; none where the text is no value of this kind at all.
template <class Record>
std::string cell_of(const LogField<Record>& field, const FieldValue& value);
template <class Record>
std::optional<FieldValue> value_in(const LogField<Record>& field, const std::string& cell);

/// The first field of a record that holds what it may not, and what would be right.
template <class Record>
std::optional<std::pair<std::string_view, std::string>> first_wrong(std::span<const LogField<Record>> fields,
                                                                    const Record& record);

}  // namespace lowkite
