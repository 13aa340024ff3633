// SPDX-License-Identifier: MIT
// Rows of sweeps: written, read, interrupted and joined.

#include <cstdio>
#include <filesystem>
#include <fstream>
#include <limits>

#include <gtest/gtest.h>

#include <hushed/error.hpp>
#include <hushed/load.hpp>
#include <hushed/sweep_file.hpp>

namespace hushed::tests {
namespace {

SweepTable two_plays() {
  return {.paths = {"hook.spring.damping", "boat.glide.easing"},
          .measures = {"peak(hook.position.x)", "closest(hook, \"boat\")"},
          .plays = 5,
          .rows = {{3, {"0.1", "cubic-bezier(.2, .8, .2, 1)"}, {1.0 / 3.0, std::nullopt}},
                   {0, {"-2e-300", "linear"}, {-0.0, std::numeric_limits<double>::max()}}}};
}

std::filesystem::path written(const std::string& name, const std::string& text) {
  const std::filesystem::path file = std::filesystem::path{testing::TempDir()} / name;
  std::ofstream{file, std::ios::binary} << text;
  return file;
}

std::string text_of(const SweepTable& table, const std::string& format) {
  const auto rows = make_sweep_rows(format, table);
  std::string text = rows->header();
  for (const SweepTable::Row& row : table.rows) text += rows->row(row);
  return text;
}

std::string refusal(const std::string& name, const std::string& text) {
  try {
    read_sweep(written(name, text));
    return "accepted";
  } catch (const LoadError& error) {
    const std::string what = error.what();
    return what.substr(what.find(name) + name.size());
  }
}

TEST(SweepFile, ReadsWhatItWrites) {
  for (const std::string format : {"csv", "jsonl"}) {
    const std::string text = text_of(two_plays(), format);
    std::size_t length = 0;
    const SweepTable read = read_sweep(written("sweep." + format, text + "4,5,0."), &length);  // an interrupted line
    EXPECT_EQ(length, text.size()) << format;
    EXPECT_EQ(read.paths, two_plays().paths);
    EXPECT_EQ(read.measures, two_plays().measures);
    EXPECT_EQ(read.plays, 5u);
    EXPECT_EQ(read.rows, two_plays().rows) << format;
  }
}

TEST(SweepFile, RefusesWhatIsNone) {
  const std::string header = "play,plays,a.b.c,peak(x)\n";
  EXPECT_EQ(refusal("a.csv", "frame,time,x\n0,0,0\n"),
            ":1:1: the first columns are not play and plays; give a file made by `hushed sweep`.");
  EXPECT_EQ(refusal("a.csv", header + "0,4,1,2\n1,4,1\n"), ":3:1: found 3 cells; the header has 4 columns.");
  EXPECT_EQ(refusal("a.csv", header + "0,4,1,two\n"), ":2:4: \"two\" is not a number.");
  EXPECT_EQ(refusal("a.csv", header + "1.5,4,1,2\n"), ":2:1: \"1.5\" is not the number of a play.");
  EXPECT_EQ(refusal("a.csv", header + "4,4,1,2\n"), ":2:1: play 4 does not exist in a sweep of 4 plays.");
  EXPECT_EQ(refusal("a.csv", header + "0,4,1,2\n1,5,1,2\n"),
            ":3:1: the number of plays is not that of the first line.");
  EXPECT_EQ(refusal("a.jsonl", "[1]\n"),
            ":1:1: the line is not a play of a sweep; give a file made by `hushed sweep`.");
  const std::string wrong = R"json({"play":0,"plays":2,"values":{"a":1},"measures":{"p(x)":"two"}})json";
  EXPECT_EQ(refusal("a.jsonl", wrong + '\n'), ":1:1: \"p(x)\" is not a number.");
  EXPECT_EQ(refusal("a.txt", ""), ": unknown format; give a file that ends in .csv or .jsonl.");
}

TEST(SweepFile, JoinsPartsOfOneSweepOnly) {
  SweepTable first = two_plays(), second = two_plays();
  second.rows = {{1, {"0.2", "linear"}, {1.0, 2.0}}, first.rows[0]};
  const SweepTable whole = join(std::vector<SweepTable>{first, second});
  ASSERT_EQ(whole.rows.size(), 3u);
  for (std::size_t i = 0; i < 3; ++i) EXPECT_EQ(whole.rows[i].number, std::vector<std::size_t>({0, 1, 3})[i]);
  second.rows[1].measured[0] = 0.5;
  EXPECT_THROW(join(std::vector<SweepTable>{first, second}), BadValue);
  second = two_plays();
  second.plays = 6;
  EXPECT_THROW(join(std::vector<SweepTable>{first, second}), BadValue);
  second = two_plays();
  second.measures[0] = "least(hook.position.x)";
  EXPECT_THROW(join(std::vector<SweepTable>{first, second}), BadValue);
}

}  // namespace
}  // namespace hushed::tests
