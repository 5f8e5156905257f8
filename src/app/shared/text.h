#pragma once

#include "report/text.h"

namespace kestrel::app {

using report::text;

} // namespace kestrel::app
