#include "calc/tyres.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "calc/inputs.hpp"
#include "core/io/json_document.hpp"
#include "core/io/library.hpp"
#include "core/io/tyre_file.hpp"
#include "core/words/say.hpp"

namespace lowkite::calc {

tl::expected<Tyres, Faults> tyres_of(const TyreOptions& options) {
  const auto book = load_tyres(data_folder() / "tyres" / "tyres.json", options.tyre_file);
  if (!book) return tl::unexpected(book.error());
  const TyreFamily* family = options.family.empty() ? &book->families.front() : book->find(options.family);
  if (!family) {
    std::vector<std::string> known;
    for (const TyreFamily& f : book->families) known.push_back(f.id);
    return tl::unexpected(Faults{Fault{"", "--tyres", say("there is no tyre family \"{}\"", options.family),
                                       say("one of {}", fmt::join(known, ", "))}});
  }
  return Tyres{*family, draw_tyres(*family, usual_draws, options.warmth)};
}

bool is_wish(const std::string& text) {
  return text.find('@') != std::string::npos;
}

tl::expected<HandlingWish, std::string> wish_of(const std::string& text) {
  const auto wrong = [&](const std::string& allowed) {
    return tl::unexpected(say("found {found}; allowed: {allowed}", "found"_a = text, "allowed"_a = allowed));
  };
  const std::size_t at = text.find('@'), is = text.find('=');
  if (at == std::string::npos || is == std::string::npos || is < at)
    return wrong(say("FIGURE@PHASE=WANT, as front_left@entry=more"));
  HandlingWish wish;
  const HandlingFigureSpec* figure = find_handling_figure(text.substr(0, at));
  if (!figure) {
    std::vector<std::string_view> known;
    for (const HandlingFigureSpec& f : handling_figures()) known.push_back(f.id);
    return wrong(fmt::format("{}", fmt::join(known, ", ")));
  }
  wish.figure = figure->figure;
  const std::string phase = text.substr(at + 1, is - at - 1), want = text.substr(is + 1);
  const auto named =
      std::find_if(corner_phases.begin(), corner_phases.end(), [&](CornerPhase p) { return name_of(p) == phase; });
  if (named == corner_phases.end()) return wrong(say("entry, middle or exit"));
  wish.phase = *named;
  for (int i = 0; i < handling_want_count; ++i)
    if (id_of(static_cast<HandlingWant>(i)) == want) {
      wish.want = static_cast<HandlingWant>(i);
      return wish;
    }
  return wrong(say("more, not_less, same, not_more or less"));
}

Json json_of(const Spread& s) {
  return {{"median", s.median}, {"low", s.low}, {"high", s.high}, {"tyres", s.tyres}};
}

Json json_of(const HandlingDifference& d) {
  Json j{{"by", json_of(d.by)}, {"more", d.more}, {"less", d.less}};
  if (d.split)
    j["split"] = {{"parameter", std::string(spec_of(d.split->parameter).id)},
                  {"at", d.split->at},
                  {"more_above", d.split->above},
                  {"more_below", d.split->below},
                  {"explains", d.split->explains}};
  return j;
}

}  // namespace lowkite::calc
