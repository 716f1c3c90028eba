#include "core/io/kept_json.hpp"

#include <nlohmann/json.hpp>

namespace lowkite {

KeptJson::KeptJson() : document_(std::make_unique<Json>()) {}
KeptJson::KeptJson(Json document) : document_(std::make_unique<Json>(std::move(document))) {}
KeptJson::KeptJson(const KeptJson& other) : document_(std::make_unique<Json>(*other.document_)) {}
KeptJson::KeptJson(KeptJson&& other) noexcept = default;
KeptJson& KeptJson::operator=(KeptJson other) noexcept {
  document_ = std::move(other.document_);
  return *this;
}
KeptJson::~KeptJson() = default;

bool KeptJson::operator==(const KeptJson& other) const {
  return *document_ == *other.document_;
}
bool KeptJson::operator==(const Json& other) const {
  return *document_ == other;
}

}  // namespace lowkite
