// Mechanisms that are chains: a corner of each, and the assembly of the chain for those who compute with it themselves.
#pragma once

#include <variant>

#include "core/linkage/hub_chain.hpp"
#include "core/linkage/sliding_chain.hpp"
#include "core/linkage/swinging_chain.hpp"
#include "core/linkage/wishbone_chain.hpp"

namespace lowkite {

struct ChainAssembly {
  std::variant<hub::Assembly, wishbone::Assembly, slider::Assembly, swinger::Assembly> of;
};

/// What a MechanismSpec asks of a chain: a corner, and the assembly alone. Fails, or is none, where the kit's points
/// hold nothing.
template <template <class> class Chain, const auto& variant>
tl::expected<std::unique_ptr<const Corner>, LinkageFailure> build_chain(const CornerGeometry& g) {
  return ChainCorner<Chain>::build(variant, g);
}
template <template <class> class Chain, const auto& variant>
std::optional<ChainAssembly> assemble_chain(const CornerGeometry& g) {
  const auto a = Chain<double>::assembly_of(variant, g.kit);
  return a ? std::optional(ChainAssembly{*a}) : std::nullopt;
}

/// None for a mechanism that is no chain (a solid axle), and where the kit's points hold nothing.
inline std::optional<ChainAssembly> chain_assembly(const MechanismSpec& spec, const CornerGeometry& g) {
  return spec.chain ? spec.chain(g) : std::nullopt;
}

}  // namespace lowkite
