#include "core/linkage/chains.hpp"

#include "core/linkage/double_wishbone.hpp"
#include "core/linkage/hub_carrier.hpp"
#include "core/linkage/sliding_kingpin.hpp"
#include "core/linkage/swinging_kingpin.hpp"

namespace lowkite {
namespace {

template <template <class> class Chain, class Variant>
std::optional<ChainAssembly> assembly(const Variant& variant, const CornerGeometry& g) {
  const auto a = Chain<double>::assembly_of(variant, g.kit);
  return a ? std::optional<ChainAssembly>(*a) : std::nullopt;
}

}  // namespace

std::optional<ChainAssembly> chain_assembly(const MechanismSpec& spec, const CornerGeometry& g) {
  if (&spec == &hub_carrier_front) return assembly<HubChain>(hub::front, g);
  if (&spec == &toe_link_hub) return assembly<HubChain>(hub::toe_link, g);
  if (&spec == &solid_hub) return assembly<HubChain>(hub::solid, g);
  if (&spec == &double_wishbone) return assembly<WishboneChain>(wishbone::two_links, g);
  if (&spec == &upper_arm_wishbone) return assembly<WishboneChain>(wishbone::one_arm, g);
  if (&spec == &ball_joint_rear) return assembly<WishboneChain>(wishbone::rear_two_links, g);
  if (&spec == &sliding_kingpin) return assembly<SlidingChain>(slider::only, g);
  if (&spec == &swinging_kingpin) return assembly<SwingingChain>(swinger::only, g);
  return std::nullopt;
}

}  // namespace lowkite
