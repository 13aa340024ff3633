// SPDX-License-Identifier: MIT
#include <hushed/detail/table_reader.hpp>
#include <hushed/load.hpp>

#include "scene/behaviour_reader.hpp"
#include "toml.hpp"

namespace hushed {

AnyBehaviour give_from_text(Scene& scene, Object object, std::string_view text, const Kinds& kinds) {
  const std::string name = "the text of a behaviour";
  Value table;
  try {
    table = detail::parse_toml(text);
  } catch (const Diagnostic& diagnostic) {
    throw LoadError{name, {diagnostic}};
  }
  detail::Diagnostics diagnostics;
  Kinds own = kinds;
  std::vector<std::string> files{name};
  detail::KindReader reader{own, files};
  const auto draft = detail::read_behaviour(table, scene.name(object), reader, diagnostics);
  if (!diagnostics.empty()) throw LoadError{files, std::move(diagnostics)};
  return scene.give(object, detail::AnyValues{*draft->kind, draft->values.get()}, draft->common);
}

}  // namespace hushed
