// SPDX-License-Identifier: MIT
// Recordings as rows: frame, time, and ten numbers for each object, as `hushed play` prints them.

#include <array>
#include <cmath>
#include <map>

#include <nlohmann/json.hpp>

#include <hushed/error.hpp>
#include <hushed/rows.hpp>
#include <hushed/watch.hpp>

#include <hushed/detail/new_file.hpp>
#include "csv.hpp"
#include "recording_format.hpp"

namespace hushed::detail {

namespace {

constexpr std::array<std::string_view, 10> parts{"position.x", "position.y", "position.z", "rotation.x", "rotation.y",
                                                 "rotation.z", "rotation.w", "scale.x",    "scale.y",    "scale.z"};

double& part_of(Pose& pose, std::size_t part) {
  const auto axis = static_cast<Eigen::Index>(part);
  return part < 3 ? pose.position[axis] : part < 7 ? pose.rotation.coeffs()[axis - 3] : pose.scale[axis - 7];
}

class RowsFormat final : public RecordingWriter::Format {
 public:
  RowsFormat(const RecordingPlan& plan, const std::string& format)
      : file_{plan.file}, rows_{make_rows(format, columns(plan))} {
    file_.write(rows_->header());
  }

  void add(Time time, std::span<const Pose> shown) override {
    values_.clear();
    for (Pose pose : shown) {
      pose.rotation = as_printed(pose.rotation);
      for (std::size_t part = 0; part < parts.size(); ++part) values_.push_back(part_of(pose, part) + 0.0);
    }
    file_.write(rows_->row(frame_++, time, values_));
  }
  void finish() override { file_.commit(); }

 private:
  static std::vector<std::string> columns(const RecordingPlan& plan) {
    std::vector<std::string> names;
    for (const auto& item : plan.items)
      for (const std::string_view part : parts) names.push_back(item.name + '.' + std::string{part});
    return names;
  }

  NewFile file_;
  std::unique_ptr<Rows> rows_;
  std::vector<double> values_;
  std::int64_t frame_ = 0;
};

/// Assigns columns of numbers to the poses of objects.
class RowsReader {
 public:
  explicit RowsReader(const std::vector<std::string>& columns) {
    std::map<std::string, std::array<bool, parts.size()>> found;
    for (std::size_t column = 0; column < columns.size(); ++column) {
      const std::string& name = columns[column];
      if (name == "frame") continue;
      if (name == "time") {
        time_ = column;
        continue;
      }
      const std::size_t dot = name.find('.');
      const auto part =
          dot == std::string::npos ? parts.end() : std::find(parts.begin(), parts.end(), name.substr(dot + 1));
      if (part == parts.end())
        throw Diagnostic{
            {1, 1},
            "column " + in_quotes(name) + " is not a part of a pose; give a file made by `hushed play --record`."};
      const std::string object = name.substr(0, dot);
      auto number = recording.find(object);
      if (!number) {
        number = recording.objects.size();
        recording.objects.push_back(object);
      }
      const auto which = static_cast<std::size_t>(part - parts.begin());
      if (found[object][which]) throw Diagnostic{{1, 1}, "column " + in_quotes(name) + " exists twice; remove one."};
      found[object][which] = true;
      targets_.push_back({column, *number, which});
    }
    if (!time_) throw Diagnostic{{1, 1}, "no column \"time\"; give a file made by `hushed play --record`."};
    for (const auto& [object, all] : found)
      for (std::size_t part = 0; part < parts.size(); ++part)
        if (!all[part])
          throw Diagnostic{
              {1, 1},
              "column " + in_quotes(object + '.' + std::string{parts[part]}) + " is missing; record the play again."};
  }

  void take(const std::vector<double>& row, std::size_t line) {
    const Time time = seconds(row[*time_]);
    if (!recording.times.empty() && time <= recording.times.back())
      throw Diagnostic{{static_cast<int>(line), 1},
                       "time " + as_text(row[*time_]) + " is not later than the time of the row before."};
    recording.times.push_back(time);
    recording.poses.resize(recording.poses.size() + recording.objects.size());
    Pose* const poses = recording.poses.data() + recording.poses.size() - recording.objects.size();
    for (const auto& [column, object, part] : targets_) part_of(poses[object], part) = row[column];
    for (std::size_t i = 0; i < recording.objects.size(); ++i)
      if (std::abs(poses[i].rotation.norm() - 1.0) > 1e-6)
        throw Diagnostic{{static_cast<int>(line), 1}, recording.objects[i] + ": the rotation does not have length 1."};
  }

  Recording recording;

 private:
  struct Target {
    std::size_t column, object, part;
  };
  std::optional<std::size_t> time_;
  std::vector<Target> targets_;
};

Recording read_csv(const std::string& text) {
  std::optional<RowsReader> reader;
  std::vector<std::string> columns;
  std::vector<double> row;
  for_each_line(text, [&](std::string_view line, std::size_t number) {
    const auto cells = cells_of(line);
    if (!reader) {
      reader.emplace(columns = cells);
      return;
    }
    if (cells.size() != columns.size())
      throw Diagnostic{{static_cast<int>(number), 1},
                       "found " + std::to_string(cells.size()) + " numbers; the header has " +
                           std::to_string(columns.size()) + " columns."};
    row.clear();
    for (std::size_t i = 0; i < cells.size(); ++i) row.push_back(number_of(cells[i], number, i + 1));
    reader->take(row, number);
  });
  if (!reader) throw Diagnostic{{}, "the file is empty; give one made by `hushed play --record`."};
  return std::move(reader->recording);
}

Recording read_json_lines(const std::string& text) {
  std::optional<RowsReader> reader;
  std::vector<std::string> columns;
  std::vector<double> row;
  for_each_line(text, [&](std::string_view line, std::size_t number) {
    const auto object = nlohmann::ordered_json::parse(line, nullptr, false);
    const TextPlace place{static_cast<int>(number), 1};
    if (!object.is_object()) throw Diagnostic{place, "the line is not a JSON object."};
    std::vector<std::string> keys;
    row.clear();
    for (const auto& [key, value] : object.items()) {
      if (!value.is_number()) throw Diagnostic{place, in_quotes(key) + " is not a number."};
      keys.push_back(key);
      row.push_back(value.get<double>());
    }
    if (!reader) reader.emplace(columns = keys);
    if (keys != columns) throw Diagnostic{place, "the keys differ from those of the first line."};
    reader->take(row, number);
  });
  if (!reader) throw Diagnostic{{}, "the file is empty; give one made by `hushed play --record`."};
  return std::move(reader->recording);
}

}  // namespace

std::unique_ptr<RecordingWriter::Format> rows_format(const RecordingPlan& plan, const std::string& format) {
  return std::make_unique<RowsFormat>(plan, format);
}

Recording read_rows(const std::string& text, bool is_csv) { return is_csv ? read_csv(text) : read_json_lines(text); }

}  // namespace hushed::detail
