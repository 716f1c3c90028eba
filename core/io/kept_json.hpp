// A JSON document held by value where its library need not be seen: what a file held, fields of other programs too.
#pragma once

#include <memory>

#include <nlohmann/json_fwd.hpp>

namespace lowkite {

/// Keeps the order of fields, so that a saved file reads like the one that was opened.
using Json = nlohmann::ordered_json;

/// Behaves like the document it holds; a default one holds JSON's null. Whoever looks inside includes
/// json_document.hpp.
class KeptJson {
 public:
  KeptJson();
  KeptJson(Json document);  // NOLINT(google-explicit-constructor): a document is what it is
  KeptJson(const KeptJson& other);
  KeptJson(KeptJson&& other) noexcept;
  KeptJson& operator=(KeptJson other) noexcept;
  ~KeptJson();

  [[nodiscard]] const Json& get() const { return *document_; }
  [[nodiscard]] Json& get() { return *document_; }
  operator const Json&() const { return *document_; }  // NOLINT(google-explicit-constructor)
  operator Json&() { return *document_; }              // NOLINT(google-explicit-constructor)
  bool operator==(const KeptJson& other) const;
  bool operator==(const Json& other) const;

 private:
  std::unique_ptr<Json> document_;  ///< null only after a move
};

}  // namespace lowkite
