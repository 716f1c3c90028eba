// Which chain a mechanism is, for those who compute with chains themselves.
#pragma once

#include <variant>

#include "core/linkage/hub_chain.hpp"
#include "core/linkage/sliding_chain.hpp"
#include "core/linkage/swinging_chain.hpp"
#include "core/linkage/wishbone_chain.hpp"

namespace lowkite {

using ChainAssembly = std::variant<hub::Assembly, wishbone::Assembly, slider::Assembly, swinger::Assembly>;

/// None for a mechanism that is no chain (a solid axle), and where the kit's points hold nothing.
std::optional<ChainAssembly> chain_assembly(const MechanismSpec& spec, const CornerGeometry& g);

}  // namespace lowkite
