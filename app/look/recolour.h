// What was written in the colours of one shade, in those of the other.
#pragma once

#include "app/look/theme.h"

namespace lowkite::app {

/// Texts, tips, cells and palettes of every widget of the program keep what their colours mean: each colour of `from`
/// is replaced by its like of `to`. What is painted from the palette needs no help. No signal tells of it: nothing was
/// edited.
void recolour(const Tokens& from, const Tokens& to);

}  // namespace lowkite::app
