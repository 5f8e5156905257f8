#pragma once

#include "words/text.h"

namespace kestrel::app {

using words::text;

} // namespace kestrel::app
