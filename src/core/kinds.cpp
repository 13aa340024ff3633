// SPDX-License-Identifier: MIT
#include <hushed/kinds.hpp>

#include <algorithm>
#include <array>
#include <utility>

#include <hushed/common.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/error.hpp>
#include <hushed/name.hpp>

namespace hushed {

std::span<const detail::Kind* const> kinds() {
  static const auto all = []<std::size_t... I>(std::index_sequence<I...>) {
    return std::array{&detail::kind_of<std::tuple_element_t<I, BuiltIn>>()...};
  }
  (std::make_index_sequence<std::tuple_size_v<BuiltIn>>{});
  return all;
}

namespace detail {

namespace {

struct CommonTable {
  static constexpr auto fields = std::tuple{
      field("enabled", &Common::enabled, unit::none, "false: the behaviour waits until it is started"),
      field("delay", &Common::delay, unit::seconds, "time from the start until it takes effect", slider(0, 5)),
      field("weight", &Common::weight, unit::share, "share of its output that is mixed in", slider(0, 1)),
      field("fade", &Common::fade, unit::seconds, "time in which the weight rises at a start and falls at a stop",
            slider(0, 2)),
      field("reads", &Common::reads, unit::none, "the poses it reads: those of now, or those of the last tick")};
};

}  // namespace

std::span<const FieldInfo> common_fields() { return fields_of<CommonTable>(); }

FieldFound find_field(const Kind& kind, std::string_view name) {
  for (const FieldInfo& field : kind.fields())
    if (field.name == name) return {&field, false};
  for (const FieldInfo& field : common_fields())
    if (field.name == name) return {&field, true};
  return {};
}

std::vector<std::string_view> field_names(const Kind& kind) {
  std::vector<std::string_view> names;
  for (const auto fields : {kind.fields(), common_fields()})
    for (const FieldInfo& field : fields) names.push_back(field.name);
  return names;
}

}  // namespace detail

const detail::Kind* find_kind(std::string_view name) {
  for (const detail::Kind* kind : kinds())
    if (kind->name() == name) return kind;
  return nullptr;
}

Kinds::Kinds() {
  for (const detail::Kind* kind : kinds()) all_.emplace_back(std::shared_ptr<void>{}, kind);
}

Kinds& Kinds::add(std::shared_ptr<const detail::Kind> kind) {
  if (!kind) throw BadValue{"no kind was given."};
  const std::string name{kind->name()};
  if (const auto wrong = wrong_with_name(name, "a kind")) throw BadValue{*wrong};
  if (find(name)) throw BadValue{"a kind called " + in_quotes(name) + " exists already; give this one another name."};
  if (const auto wrong = mistake_in(*kind)) throw BadValue{*wrong};
  all_.push_back(std::move(kind));
  return *this;
}

std::optional<std::string> Kinds::mistake_in(const detail::Kind& kind) {
  for (const FieldInfo& field : kind.fields()) {
    const std::string which = std::string{kind.name()} + ": field " + in_quotes(field.name);
    if (wrong_with_name(field.name, "a field")) return which + " is not a name; give letters, digits, `-` and `_`.";
    const bool is_taken = field.name == "kind" || field.name == "name" || field.name == "script" ||
                          std::any_of(detail::common_fields().begin(), detail::common_fields().end(),
                                      [&](const FieldInfo& each) { return each.name == field.name; });
    if (is_taken) return which + " has the name of a key that every behaviour has; give it another.";
    if (detail::find_field(kind, field.name).field != &field)
      return which + " has the name of another field; give it another.";
  }
  return std::nullopt;
}

Kinds& Kinds::set_loader(Loader loader) {
  loader_ = std::move(loader);
  return *this;
}

Kinds& Kinds::set_file_reader(FileReader reader) {
  file_reader_ = std::move(reader);
  return *this;
}

std::shared_ptr<const detail::Kind> Kinds::load(const std::string& file, std::string_view text,
                                                const ScriptLimits& limits, std::vector<Diagnostic>& mistakes) {
  const auto known =
      std::find_if(loaded_.begin(), loaded_.end(), [&](const Loaded& each) { return each.file == file; });
  if (known != loaded_.end() && known->text == text && known->limits == limits) return known->kind;
  if (!loader_) {
    mistakes.push_back({{1, 1}, "this program reads no scripts; call add_scripts with its list of kinds."});
    return nullptr;
  }
  auto kind = loader_(file, text, limits, mistakes);
  if (!kind) return nullptr;
  if (find(kind->name())) {
    mistakes.push_back({{1, 1}, "a kind called " + in_quotes(kind->name()) + " exists already; rename the file."});
    return nullptr;
  }
  if (const auto wrong = mistake_in(*kind)) {
    mistakes.push_back({{1, 1}, *wrong});
    return nullptr;
  }
  if (known != loaded_.end())
    *known = {file, std::string{text}, limits, kind};
  else
    loaded_.push_back({file, std::string{text}, limits, kind});
  return kind;
}

std::vector<std::pair<std::string, std::shared_ptr<const detail::Kind>>> Kinds::loaded() const {
  std::vector<std::pair<std::string, std::shared_ptr<const detail::Kind>>> all;
  for (const Loaded& each : loaded_) all.emplace_back(each.file, each.kind);
  return all;
}

Kinds Kinds::anew() const {
  Kinds made = *this;
  made.loaded_.clear();
  return made;
}

const detail::Kind* Kinds::find(std::string_view name) const {
  for (const auto& kind : all_)
    if (kind->name() == name) return kind.get();
  return nullptr;
}

}  // namespace hushed
