#include "core/log/laps.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numeric>
#include <regex>

#include <fmt/format.h>

#include "core/linkage/at.hpp"
#include "core/words/say.hpp"

namespace lowkite {

std::vector<LapStanding> standings(const std::vector<Lap>& laps, const LapRule& rule) {
  std::vector<double> ordinary;
  for (const Lap& l : laps)
    if (l.mark == LapMark::ordinary) ordinary.push_back(l.seconds);
  const double middle = median(ordinary).value_or(0.0);
  std::vector<LapStanding> list;
  for (const Lap& l : laps) {
    if (l.mark != LapMark::ordinary)
      list.push_back(LapStanding::marked);
    else if (l.seconds > middle * (1.0 + rule.slower_share))
      list.push_back(LapStanding::too_slow);
    else if (l.seconds < middle * (1.0 - rule.faster_share))
      list.push_back(LapStanding::too_fast);
    else
      list.push_back(LapStanding::counts);
  }
  return list;
}

std::vector<double> counting(const std::vector<Lap>& laps, const LapRule& rule) {
  const auto standing = standings(laps, rule);
  std::vector<double> seconds;
  for (std::size_t i = 0; i < laps.size(); ++i)
    if (standing[i] == LapStanding::counts) seconds.push_back(laps[i].seconds);
  return seconds;
}

bool LapFigures::fades() const {
  return fade && std::abs(fade->slope) > 2.0 * fade->slope_error;
}

std::optional<LapFigures> lap_figures(const std::vector<Lap>& laps, const LapRule& rule, int row) {
  const auto standing = standings(laps, rule);
  const std::vector<double> seconds = counting(laps, rule);
  const auto s = summarise(seconds);
  if (!s) return std::nullopt;
  LapFigures f;
  f.row = row;
  f.counted = s->count;
  f.set_aside = static_cast<int>(laps.size()) - s->count;
  f.best_s = s->least;
  f.mean_s = s->mean;
  f.median_s = *median(seconds);
  f.deviation_s = s->deviation;
  f.middle_half_s = *quantile(seconds, 0.75) - *quantile(seconds, 0.25);
  std::vector<double> place;
  for (std::size_t i = 0; i < laps.size(); ++i) {
    const double lost = std::max(0.0, laps[i].seconds - f.median_s);
    if (laps[i].mark == LapMark::crash) f.lost_to_crashes_s += lost;
    if (laps[i].mark == LapMark::traffic) f.lost_to_traffic_s += lost;
    if (standing[i] == LapStanding::too_slow) f.lost_otherwise_s += lost;
    if (standing[i] == LapStanding::counts) place.push_back(laps[i].number);
    if (i > 0) f.missing += std::max(0, laps[i].number - laps[i - 1].number - 1);
  }
  if (seconds.size() >= 3) f.fade = fit_line(place, seconds);
  for (std::size_t i = 0; i + at(row) <= laps.size(); ++i) {
    double sum = 0.0;
    bool whole = true;
    for (std::size_t k = i; k < i + at(row); ++k) {
      whole &= standing[k] == LapStanding::counts && (k == i || laps[k].number == laps[k - 1].number + 1);
      sum += laps[k].seconds;
    }
    if (whole && (!f.best_in_a_row_s || sum < *f.best_in_a_row_s)) f.best_in_a_row_s = sum;
  }
  return f;
}

std::string lap_text(double seconds, int decimals) {
  const double unit = std::pow(10.0, decimals);
  const double rounded = std::round(seconds * unit) / unit;
  if (rounded < 60.0) return fmt::format("{:.{}f}", rounded, decimals);
  const int minutes = static_cast<int>(rounded / 60.0);
  return fmt::format("{}:{:0{}.{}f}", minutes, rounded - 60.0 * minutes, decimals > 0 ? decimals + 3 : 2, decimals);
}

std::optional<double> lap_from_text(std::string_view text) {
  static const std::regex shape(R"(^\s*(?:(\d{1,2})\s*[:'])?\s*(\d{1,3})(?:\s*[.,:"]\s*(\d{1,6})\s*)?\s*(?:s|")?\s*$)");
  std::match_results<std::string_view::const_iterator> m;
  if (!std::regex_match(text.begin(), text.end(), m, shape)) return std::nullopt;
  // "1:02" without decimals: minutes and seconds; "62.3": seconds.
  const auto number = [&](std::size_t i) { return m[i].matched ? std::stod(m[i].str()) : 0.0; };
  if (m[1].matched && number(2) >= 60.0) return std::nullopt;
  double seconds = 60.0 * number(1) + number(2);
  if (m[3].matched) {
    const std::string digits = m[3].str();
    seconds += std::stod(digits) / std::pow(10.0, static_cast<double>(digits.size()));
  }
  return seconds > 0.0 ? std::optional(seconds) : std::nullopt;
}

tl::expected<std::vector<Lap>, std::string> laps_from_text(const std::string& text) {
  // A number in front: set off by a sign of its own, or alone before the time.
  static const std::regex numbered(R"(^\s*(?:[Ll]ap\s*)?(\d{1,4})(?:\s*[.):]\s+|\s+)(\S.*)$)");
  std::vector<Lap> laps;
  std::size_t from = 0;
  const auto add = [&](const std::string& piece, std::optional<int> number) -> bool {
    const auto seconds = lap_from_text(piece);
    if (!seconds) return false;
    laps.push_back({number.value_or(laps.empty() ? 1 : laps.back().number + 1), *seconds, LapMark::ordinary});
    return true;
  };
  while (from <= text.size()) {
    const std::size_t end = std::min(text.find('\n', from), text.size());
    std::string line = text.substr(from, end - from);
    from = end + 1;
    while (!line.empty() && (line.back() == '\r' || line.back() == ' ' || line.back() == ';')) line.pop_back();
    if (line.find_first_not_of(" \t;") == std::string::npos) continue;
    std::smatch m;
    if (std::regex_match(line, m, numbered) && lap_from_text(m[2].str()) &&
        m[2].str().find_first_of(".,:'") != std::string::npos && m[1].str().size() < 4) {
      // "12 14.83" is a numbered lap; two times on a line have decimals both.
      add(m[2].str(), std::stoi(m[1].str()));
      continue;
    }
    std::size_t begin = 0;
    while (begin < line.size()) {
      const std::size_t stop = std::min(line.find_first_of(" \t;", begin), line.size());
      const std::string piece = line.substr(begin, stop - begin);
      begin = stop + 1;
      if (!piece.empty() && !add(piece, std::nullopt))
        return tl::unexpected(say("\"{}\" is no lap time; allowed: 14.83, 14,83 or 1:02.34", piece));
    }
  }
  return laps;
}

}  // namespace lowkite
