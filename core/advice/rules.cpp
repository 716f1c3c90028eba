#include "core/advice/rules.hpp"

#include <algorithm>
#include <array>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/io/atomic_file.hpp"
#include "core/io/car_file.hpp"
#include "core/io/schema_check.hpp"
#include "core/words/say.hpp"

namespace lowkite {
namespace {

constexpr auto hold_names =
    std::to_array<Named<RulePart::Hold>>({{RulePart::Hold::camber, "camber", marked("camber")},
                                          {RulePart::Hold::toe, "toe", marked("toe")},
                                          {RulePart::Hold::ride_height, "ride_height", marked("ride height")},
                                          {RulePart::Hold::lock, "lock", marked("full lock")},
                                          {RulePart::Hold::droop, "droop", marked("droop")}});
constexpr std::array<const char*, 3> axis_names{"x", "y", "z"};

double way_in(const Json& j) {
  return j["way"].get<std::string>() == "-" ? -1.0 : 1.0;
}

const char* way_text(double way) {
  return way < 0.0 ? "-" : "+";
}

int axis_in(const std::string& text) {
  return text == "x" ? 0 : text == "y" ? 1 : 2;
}

class Reader {
 public:
  Reader(const Json& doc, std::string file, const RuleBook* shipped)
      : doc_(doc), file_(std::move(file)), shipped_(shipped) {}

  tl::expected<RuleBook, Faults> read() {
    if (const auto list = doc_.find("questions"); list != doc_.end())
      for (const Json& q : *list) {
        Question question{q["id"].get<std::string>(), q["text"].get<std::string>(), {}};
        for (const Json& s : q["schools"])
          question.schools.push_back({s["id"].get<std::string>(), s["text"].get<std::string>()});
        book_.questions.push_back(std::move(question));
      }
    for (const Json& r : doc_["rules"]) read_rule(r);
    if (!faults_.empty()) return tl::unexpected(faults_);
    return std::move(book_);
  }

 private:
  void fault(std::vector<std::string> place, std::string wrong, std::string allowed) {
    faults_.push_back({file_, place_of(place), std::move(wrong), std::move(allowed)});
  }

  [[nodiscard]] const Question* question(const std::string& id) const {
    if (const Question* q = book_.question(id)) return q;
    return shipped_ ? shipped_->question(id) : nullptr;
  }

  void read_rule(const Json& j) {
    Rule r;
    r.id = j["id"].get<std::string>();
    r.name = j["name"].get<std::string>();
    r.why = j["why"].get<std::string>();
    r.step = j["step"].get<double>();
    r.end = j["end"].get<std::string>() == "rear" ? End::rear : End::front;
    r.own = shipped_ != nullptr;
    const std::vector<std::string> here{"rules", r.id};
    if (book_.rule(r.id)) fault(here, say("a rule of that id stands twice"), say("an id of its own"));
    r.question = j.value("question", std::string());
    r.school = j.value("school", std::string());
    if (!r.question.empty()) {
      const Question* q = question(r.question);
      if (!q)
        fault({"rules", r.id, "question"}, say("there is no question \"{}\"", r.question),
              say("one that stands under \"questions\""));
      else if (std::none_of(q->schools.begin(), q->schools.end(), [&](const School& s) { return s.id == r.school; })) {
        std::vector<std::string> ids;
        for (const School& s : q->schools) ids.push_back(s.id);
        fault({"rules", r.id, "school"}, say("found \"{}\"", r.school), say("one of {}", fmt::join(ids, ", ")));
      }
    }
    if (const auto list = j.find("surfaces"); list != j.end())
      for (const Json& s : *list) r.surfaces.push_back(*value_of(surfaces(), s.get<std::string>()));
    if (const auto list = j.find("grip"); list != j.end())
      for (const Json& g : *list) r.grip.push_back(*value_of(grips(), g.get<std::string>()));
    read_part(j["part"], r);
    for (const Json& h : j["helps"]) {
      RuleHelp help;
      for (const Json& p : h["phases"]) help.phases.push_back(*value_of(phases(), p.get<std::string>()));
      help.sense = *sense_of_id(h["sense"].get<std::string>());
      help.way = way_in(h);
      r.helps.push_back(std::move(help));
    }
    if (const auto list = j.find("claims"); list != j.end())
      for (const Json& c : *list) {
        RuleClaim claim;
        const std::string id = c["figure"].get<std::string>();
        claim.figure = find_figure(id);
        if (!claim.figure)
          fault({"rules", r.id, "claims"}, say("there is no figure \"{}\"", id),
                say("a figure by its name in report --json, or in load --json"));
        const std::string end = c.value("end", std::string(name_of(r.end)));
        claim.end = end == "rear" ? End::rear : End::front;
        claim.way = way_in(c);
        r.claims.push_back(claim);
      }
    if (r.part.kind == RulePart::Kind::told && !r.claims.empty())
      fault({"rules", r.id, "claims"}, say("a rule that is only told moves no figure of the model"), say("no claims"));
    if (const auto list = j.find("costs"); list != j.end())
      for (const Json& c : *list) r.costs.push_back(c.get<std::string>());
    book_.rules.push_back(std::move(r));
  }

  void read_part(const Json& j, Rule& r) {
    RulePart& p = r.part;
    p.way = way_in(j);
    const int kinds = static_cast<int>(j.contains("point")) + j.contains("size") + j.contains("caster") +
                      j.contains("weight") + j.contains("hold") + j.contains("told");
    if (kinds != 1) {
      fault({"rules", r.id, "part"}, say("{} things to take in hand", kinds),
            say("exactly one of point, size, caster, weight, hold and told"));
      return;
    }
    if (const auto point = j.find("point"); point != j.end()) {
      p.kind = RulePart::Kind::point;
      p.point = point->get<std::string>();
      p.axis = axis_in(j.value("axis", std::string("z")));
    } else if (const auto size = j.find("size"); size != j.end()) {
      p.kind = RulePart::Kind::size;
      const auto named = size_by_name(size->get<std::string>());
      if (!named)
        fault({"rules", r.id, "part", "size"}, say("there is no size \"{}\"", size->get<std::string>()),
              say("a size as in car files, such as spring_rate_n_per_mm"));
      else
        p.size = *named;
    } else if (const auto weight = j.find("weight"); weight != j.end()) {
      p.kind = RulePart::Kind::weight;
      p.axis = axis_in(weight->get<std::string>());
    } else if (const auto hold = j.find("hold"); hold != j.end()) {
      p.kind = RulePart::Kind::hold;
      p.hold = *value_of(std::span<const Named<RulePart::Hold>>(hold_names), hold->get<std::string>());
    } else if (const auto told = j.find("told"); told != j.end()) {
      p.kind = RulePart::Kind::told;
      p.told = told->get<std::string>();
    } else {
      p.kind = RulePart::Kind::caster;
    }
  }

  const Json& doc_;
  std::string file_;
  const RuleBook* shipped_;
  RuleBook book_;
  Faults faults_;
};

Json part_json(const RulePart& p) {
  Json j = {{"way", way_text(p.way)}};
  switch (p.kind) {
    case RulePart::Kind::point:
      j["point"] = p.point;
      j["axis"] = axis_names[at(p.axis)];
      break;
    case RulePart::Kind::size:
      j["size"] = std::string(name_of_size(p.size));
      break;
    case RulePart::Kind::caster:
      j["caster"] = true;
      break;
    case RulePart::Kind::weight:
      j["weight"] = axis_names[at(p.axis)];
      break;
    case RulePart::Kind::hold:
      j["hold"] = std::string(id_in(std::span<const Named<RulePart::Hold>>(hold_names), p.hold));
      break;
    case RulePart::Kind::told:
      j["told"] = p.told;
      break;
  }
  return j;
}

}  // namespace

const Question* RuleBook::question(std::string_view id) const {
  for (const Question& q : questions)
    if (q.id == id) return &q;
  return nullptr;
}

const Rule* RuleBook::rule(std::string_view id) const {
  for (const Rule& r : rules)
    if (r.id == id) return &r;
  return nullptr;
}

tl::expected<RuleBook, Faults> read_rules(const std::string& text, const std::string& file, const RuleBook* shipped) {
  auto document = parse_json(text, file);
  if (!document) return tl::unexpected(document.error());
  if (Faults f = check_header(*document, file, "lowkite-rules", newest_rules_version); !f.empty())
    return tl::unexpected(f);
  if (Faults f = check_schema(*document, file, FileKind::rules); !f.empty()) return tl::unexpected(f);
  return Reader(*document, file, shipped).read();
}

tl::expected<RuleBook, Faults> load_rules(const std::filesystem::path& shipped, const std::filesystem::path& own) {
  const auto text = read_file(shipped);
  if (!text) return tl::unexpected(Faults{text.error()});
  auto book = read_rules(*text, shipped.filename().string());
  std::error_code none;
  if (!book || own.empty() || !std::filesystem::exists(own, none)) return book;
  const auto own_text = read_file(own);
  if (!own_text) return tl::unexpected(Faults{own_text.error()});
  auto mine = read_rules(*own_text, own.filename().string(), &*book);
  if (!mine) return mine;
  book->questions.insert(book->questions.end(), mine->questions.begin(), mine->questions.end());
  for (Rule& r : mine->rules) {
    const auto there =
        std::find_if(book->rules.begin(), book->rules.end(), [&](const Rule& o) { return o.id == r.id; });
    if (there != book->rules.end())
      *there = std::move(r);
    else
      book->rules.push_back(std::move(r));
  }
  return book;
}

Json json_of(const Rule& r) {
  Json j = {{"id", r.id}, {"name", r.name}};
  if (!r.question.empty()) {
    j["question"] = r.question;
    j["school"] = r.school;
  }
  for (const Surface s : r.surfaces) j["surfaces"].push_back(std::string(id_in(surfaces(), s)));
  for (const Grip g : r.grip) j["grip"].push_back(std::string(id_in(grips(), g)));
  j["end"] = std::string(name_of(r.end));
  j["part"] = part_json(r.part);
  j["step"] = r.step;
  for (const RuleHelp& h : r.helps) {
    Json help = {{"phases", Json::array()}, {"sense", std::string(words_of(h.sense).id)}, {"way", way_text(h.way)}};
    for (const Phase p : h.phases) help["phases"].push_back(std::string(id_in(phases(), p)));
    j["helps"].push_back(std::move(help));
  }
  for (const RuleClaim& c : r.claims)
    j["claims"].push_back(
        {{"figure", std::string(c.figure->id)}, {"end", std::string(name_of(c.end))}, {"way", way_text(c.way)}});
  for (const std::string& c : r.costs) j["costs"].push_back(c);
  j["why"] = r.why;
  return j;
}

std::string write_own_rules(const std::vector<Rule>& rules) {
  Json j = {{"format", "lowkite-rules"}, {"version", newest_rules_version}, {"rules", Json::array()}};
  for (const Rule& r : rules) j["rules"].push_back(json_of(r));
  return j.dump(2) + "\n";
}

}  // namespace lowkite
