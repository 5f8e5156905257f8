#pragma once

#include <nlohmann/json.hpp>

#include <filesystem>
#include <string>
#include <vector>

/// Packs as text that a coach changes: the order of what is in the file stays as it was. What comes
/// out may be wrong; packFromText() says so before it is kept.
namespace kestrel::technique {

/// JSON that keeps the order of its members.
using Document = nlohmann::ordered_json;

/// A place in a document: "/measures/3/ranges/0/good".
using Pointer = Document::json_pointer;

/// The text of a pack as a document. Throws model::InputError with the line of a syntax error.
Document documentOf(const std::string& text, const std::filesystem::path& file);

/// A document as the text of a pack file.
std::string textOf(const Document& document);

/// A copy under another id and name, version 1, which remembers what it was copied from.
Document copied(const Document& pack, const std::string& id, const std::string& name);

/// With `value` at `place`; null removes the member that is there. A member that is missing is
/// added.
Document withValue(Document pack, const Pointer& place, const Document& value);

/// With `item` added at the end of the list at `list`, which is made when it is missing.
Document withAdded(Document pack, const Pointer& list, const Document& item);

/// Without the item of the list, or the member, at `place`.
Document without(Document pack, const Pointer& place);

/// With the item of a list moved by so many places, as far as the list goes.
Document moved(Document pack, const Pointer& place, int by);

/// The part of a JSON Schema (draft 7) that speaks of `place`, with references followed; an empty
/// object when it speaks of no such place.
Document schemaAt(const Document& schema, const Pointer& place);

/// The smallest document that a schema part can be expected to take: required members only, texts
/// "…", numbers at their lower limit or 0, the first of enumerated values.
Document smallest(const Document& schema, const Document& part);

} // namespace kestrel::technique
