// SPDX-License-Identifier: MIT
#pragma once

// What a scene file says, read and not yet a scene.

#include <deque>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include <hushed/detail/kind.hpp>
#include <hushed/detail/scene_names.hpp>
#include <hushed/detail/table_reader.hpp>
#include <hushed/load.hpp>

namespace hushed::detail {

struct BehaviourDraft {
  const Kind* kind;
  std::shared_ptr<void> values;
  Common common;
  const Value* source;      ///< its table
  std::string whose;        ///< its name in diagnostics
  bool is_sound;            ///< each value by itself
  std::string preset = {};  ///< that it comes from

  std::string_view name() const { return common.name.empty() ? kind->name() : std::string_view{common.name}; }
};

struct PresetDraft {
  std::string name;
  TextPlace place;
  std::vector<BehaviourDraft> behaviours;
};
using PresetDrafts = std::vector<PresetDraft>;

struct ObjectDraft {
  struct Use {
    std::string preset;
    TextPlace place;
    std::vector<OwnValue> own = {};
  };

  TextPlace place;
  NewObject object;
  std::string parent;  ///< empty for none
  TextPlace parent_place;
  std::vector<Use> uses;
  std::ptrdiff_t from_keys = 0;            ///< the number of behaviours that stand for the keys `fed` and `pace`
  std::vector<BehaviourDraft> behaviours;  ///< those from keys first, then those of presets
};

struct RuleDraft {
  TextPlace place;
  Rule rule;
  bool is_sound;
};

/// { rings = "the bell is meant to" }: codes of findings, each with its reason.
void read_ignored(const Value& value, const std::string& whose, std::vector<IgnoredFinding>& ignored,
                  Diagnostics& diagnostics);

void check_name(TableReader& table, TextPlace place, std::string_view name, std::string_view of_what);

/// What a whole crowd may ask for, found once.
struct FoundOnce {
  template <class Of>
  using ByName = std::map<std::string, Of, std::less<>>;

  ByName<std::string> suggestions;  ///< for misspelt names of objects
  ByName<ObjectList> tagged;        ///< nullptr for a tag without members
  std::optional<std::vector<std::string_view>> tags;
};

/// What a behaviour of one object may name, or a rule, as long as the scene is not there yet.
class NamesInFile final : public SceneNames {
 public:
  using Numbers = std::unordered_map<std::string, std::size_t>;
  NamesInFile(const std::vector<ObjectDraft>& drafts, const Numbers& numbers, FoundOnce& once,
              const ObjectDraft* draft = nullptr)
      : drafts_{drafts}, numbers_{numbers}, once_{once}, draft_{draft} {}

  Object object(std::string_view name) const override;
  std::vector<std::string_view> objects() const override;
  std::string suggest(std::string_view name) const override;
  ObjectList tagged(std::string_view tag) const override;
  std::vector<std::string_view> tags() const override;
  bool has_tag(std::string_view tag) const override { return tagged(tag) != nullptr; }
  const PoseParts* pose(std::string_view name) const override;
  std::vector<std::string_view> poses() const override;
  std::string name_of(Object object) const override { return drafts_[object.index].object.name; }
  std::string_view own_name() const override {
    return draft_ ? std::string_view{draft_->object.name} : std::string_view{};
  }

  std::vector<std::string_view> behaviours_of(Object object) const override;
  const Kind* kind_of(Object object, std::string_view name) const override;
  std::vector<std::string_view> poses_of(Object object) const override { return poses_of(drafts_[object.index]); }
  std::string path_of(AnyBehaviour) const override { return ""; }  // in a file there are no handles

 private:
  static std::vector<std::string_view> poses_of(const ObjectDraft& draft);

  const std::vector<ObjectDraft>& drafts_;
  const Numbers& numbers_;
  FoundOnce& once_;
  const ObjectDraft* draft_;
};

}  // namespace hushed::detail
