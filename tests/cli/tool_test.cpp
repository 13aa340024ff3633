// SPDX-License-Identifier: MIT
// The tool, run as a process.

#include <gtest/gtest.h>

#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>
#include <cmath>

#include <algorithm>
#include <array>
#include <cctype>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iomanip>
#include <sstream>
#include <string>
#include <vector>

#include "shell.hpp"

namespace {

using hushed::tests::lines;
using hushed::tests::Result;
using hushed::tests::shell;

const std::string harbour = SOURCES "/scenes/harbour.toml";

Result play(const std::string& options) { return shell("hushed play " + harbour + " " + options); }

/// What bash offers for the last of these words.
std::string completed(const std::string& words, int number_of_last) {
  const std::string script = testing::TempDir() + "hushed_completions";
  std::ofstream{script} << shell("hushed completions bash").output;
  return shell("bash -c '. " + script + "; COMP_WORDS=(" + words + "); COMP_CWORD=" + std::to_string(number_of_last) +
               "; _hushed; echo ${COMPREPLY[@]}'")
      .output;
}

TEST(Tool, CompletesCommandLinesInBash) {
  EXPECT_EQ(completed("hushed co", 1), "compare completions\n");
  EXPECT_EQ(completed("hushed play --wa", 2), "--watch\n");
  EXPECT_EQ(completed("hushed play harbour.toml --format j", 4), "jsonl\n");
  EXPECT_EQ(completed("hushed describe spri", 2), "spring\n");
  EXPECT_EQ(completed("hushed help dr", 2), "draw\n");
}

TEST(Tool, TellsShellsAndTheManualOfAllOptions) {
  const std::string bash = shell("hushed completions bash").output, zsh = shell("hushed completions zsh").output,
                    fish = shell("hushed completions fish").output, manual = shell("hushed manual").output;
  int count = 0;
  for (const std::string command : {"play", "draw", "compare", "check", "live", "describe"}) {
    std::istringstream words{shell("hushed help " + command).output};
    for (std::string word; words >> word;) {
      if (!word.starts_with("--") || word.find_first_not_of("-abcdefghijklmnopqrstuvwxyz") != word.npos) continue;
      ++count;
      std::string in_manual;
      for (const char letter : word) in_manual += letter == '-' ? "\\-" : std::string{letter};
      EXPECT_NE(bash.find(word), bash.npos) << word;
      EXPECT_NE(zsh.find(word + "["), zsh.npos) << word;
      EXPECT_NE(fish.find("-l " + word.substr(2)), fish.npos) << word;
      EXPECT_NE(manual.find(in_manual), manual.npos) << word;
    }
  }
  EXPECT_GT(count, 50);
}

TEST(Tool, PrintsFramesAsCsvThatReadsBack) {
  const Result result = play(
      "--fps 4 --frames 4 --watch lamp.rotation.yaw,skiff.position.x --watch 'distance(skiff,lighthouse)' --format "
      "csv");
  EXPECT_EQ(result.status, 0);
  const auto rows = lines(result.output);
  ASSERT_EQ(rows.size(), 6U);
  EXPECT_EQ(rows[0], "frame,time,lamp.rotation.yaw,skiff.position.x,\"distance(skiff,lighthouse)\"");
  EXPECT_EQ(rows[1], "0,0,0,0,15.620499351813308");
  double frame = 0, time = 0, yaw = 0, x = 0, distance = 0;
  ASSERT_EQ(sscanf(rows[5].c_str(), "%lf,%lf,%lf,%lf,%lf", &frame, &time, &yaw, &x, &distance), 5);
  EXPECT_EQ(frame, 4);
  EXPECT_EQ(time, 1);
  EXPECT_NEAR(yaw, 40, 1e-12);
  EXPECT_EQ(x, 0.5);
  EXPECT_NEAR(distance, std::sqrt(12.5 * 12.5 + 10.0 * 10.0), 1e-12);
  EXPECT_EQ(result.output.find('\r'), std::string::npos);
}

TEST(Tool, PrintsJsonLines) {
  const Result result = play("--seconds 0.5 --fps 3 --watch skiff.position.x --format jsonl");
  EXPECT_EQ(result.output,
            "{\"frame\":0,\"time\":0,\"skiff.position.x\":0}\n"
            "{\"frame\":1,\"time\":0.3333333333333333,\"skiff.position.x\":0.16666666666666666}\n");
}

TEST(Tool, PlaysTenSecondsAtSixtyFramesWithTheWatchesOfTheFile) {
  const auto rows = lines(play("").output);
  ASSERT_EQ(rows.size(), 602U);
  EXPECT_NE(rows[0].find("lamp.rotation.yaw"), std::string::npos);
  EXPECT_NE(rows[601].find("600   10.000000"), std::string::npos);
}

TEST(Tool, WatchesAllPositionsByDefault) {
  const std::string file = testing::TempDir() + "two.toml";
  std::ofstream{file} << "hushed = 1\n[object.b]\n[object.a]\n";
  EXPECT_EQ(lines(shell("hushed play " + file + " --frames 0 --format csv").output)[0],
            "frame,time,b.position.x,b.position.y,b.position.z,a.position.x,a.position.y,a.position.z");
}

TEST(Tool, SetsValuesBeforeThePlay) {
  const Result result = play(
      "--fps 1 --frames 2 --format csv --watch lamp.rotation.yaw,skiff.position "
      "--set lamp.spin.speed=-10 --set skiff.travel.velocity='[0, 1, 0]' --set lamp.spin.space=world");
  const auto rows = lines(result.output);
  ASSERT_EQ(rows.size(), 4U) << result.output;
  double yaw = 0, x = 0, y = 0;
  ASSERT_EQ(sscanf(rows[3].c_str(), "2,2,%lf,%lf,%lf", &yaw, &x, &y), 3) << rows[3];
  EXPECT_NEAR(yaw, -20, 1e-12);
  EXPECT_EQ(x, 0);
  EXPECT_EQ(y, 2);
}

TEST(Tool, HasEqualPosesInUnevenFramesAndAtOtherRates) {
  // Every frame of an uneven play equals a play to its time in a single frame.
  const auto rows = lines(play("--uneven 3 --frames 5 --watch skiff.rotation,lantern.position --format csv").output);
  ASSERT_EQ(rows.size(), 7U);
  for (std::size_t i = 2; i < rows.size(); ++i) {
    const std::size_t first = rows[i].find(',') + 1, second = rows[i].find(',', first);
    const double time = std::stod(rows[i].substr(first, second - first));
    std::ostringstream fps;
    fps.precision(17);
    fps << 1.0 / time;
    const auto again =
        lines(play("--fps " + fps.str() + " --frames 1 --watch skiff.rotation,lantern.position --format csv").output);
    EXPECT_EQ(again[2].substr(again[2].find(',', 2)), rows[i].substr(second)) << rows[i];
  }
}

TEST(Tool, ExitsWithTwoWhereTheCommandLineIsWrong) {
  for (const auto& [options, word] :
       std::vector<std::pair<std::string, std::string>>{{"--watch lamp.postion", "did you mean \"position\"?"},
                                                        {"--set lamp.spin.sped=3", "did you mean \"speed\"?"},
                                                        {"--set lamp.spin.speed", "give PATH=VALUE"},
                                                        {"--set lamp.spin.speed=fast", "give a number"},
                                                        {"--fps 0", "--fps"},
                                                        {"--frames -3", "--frames"},
                                                        {"--frames 99999999999999", "--frames"},
                                                        {"--frames 3 --seconds 2", "--seconds"},
                                                        {"--tick-rate 20000", "--tick-rate"},
                                                        {"--format xml", "--format"},
                                                        {"--frmes 3", "--frmes"}}) {
    const Result result = play(options);
    EXPECT_EQ(result.status, 2) << options;
    EXPECT_NE(result.output.find(word), std::string::npos) << options << ": " << result.output;
  }
  EXPECT_EQ(shell("hushed dance").status, 2);
  EXPECT_EQ(shell("hushed describe spinn").status, 2);
}

TEST(Tool, ExitsWithOneWhereTheSceneHasErrors) {
  const std::string file = testing::TempDir() + "wrong.toml";
  std::ofstream{file} << "hushed = 1\n[view]\nwatch = [\"lmap.position\"]\n[object.lamp]\n";
  for (const std::string& scene : {file, std::string{"/no/such.toml"}, std::string{"/tmp"}, std::string{TOOL}}) {
    const Result result = shell("hushed play " + scene);
    EXPECT_EQ(result.status, 1) << scene;
    EXPECT_TRUE(result.output.starts_with(scene + ":")) << result.output;
  }
  EXPECT_NE(shell("hushed play " + file).output.find("wrong.toml:3:10: view: watch"), std::string::npos);
}

TEST(Tool, ListsEvents) {
  auto rows = lines(play("--events --seconds 10 --format csv").output);
  EXPECT_EQ(rows[0], "frame,time,object,event,words");
  EXPECT_EQ(rows[1], "151,2.5166666666666666,,fired,\"rule bridge-answers-the-horn fired\"");
  std::erase_if(rows, [](const std::string& row) { return row.find(",reached,") == std::string::npos; });
  rows.insert(rows.begin(), "");
  double frame = 0, time = 0;
  ASSERT_EQ(sscanf(rows[1].c_str(), "%lf,%lf", &frame, &time), 2);
  EXPECT_EQ(frame, std::ceil(60 * time));  // told in the first frame after it
  EXPECT_TRUE(rows[1].ends_with(",ferry,reached,\"ferry.route reached point 1\"")) << rows[1];
  std::ostringstream there;  // and there it is: the second point of its route, (6, 0, -16)
  there << "--fps " << std::setprecision(17) << 1.0 / time << " --frames 1 --watch ferry.position --format csv";
  double x = 0, y = 0, z = 0;
  ASSERT_EQ(sscanf(lines(play(there.str()).output)[2].c_str(), "1,%*f,%lf,%lf,%lf", &x, &y, &z), 3);
  EXPECT_NEAR(std::hypot(x - 6, y, z + 16), 0, 1e-6);
}

TEST(Tool, PlaysRecordedInput) {
  const std::string keys = testing::TempDir() + "keys.csv", none = testing::TempDir() + "none.csv";
  std::ofstream{keys} << "1,W,down\n2,W,up\n";
  std::ofstream{none} << "time,key,change\n";
  const auto x = [](const std::string& options) {
    double place = 0;
    const auto rows = lines(play(options + " --seconds 8 --fps 1 --watch pilot.position.x --format csv").output);
    EXPECT_EQ(sscanf(rows.back().c_str(), "8,8,%lf", &place), 1);
    return place;
  };
  EXPECT_EQ(x("--keys " + none), -8);
  EXPECT_NEAR(x("--keys " + keys), -8 + 5, 0.01);  // 5 m/s for a second; what lags at first comes at last
  EXPECT_GT(x(""), -2);                            // as [view] says
  std::ofstream{keys} << "1,W,down\n2,W,donw\n";
  const Result wrong = play("--keys " + keys);
  EXPECT_EQ(wrong.status, 1);
  EXPECT_TRUE(wrong.output.starts_with(keys + ":2:5: \"donw\" is not a change")) << wrong.output;
  EXPECT_EQ(play("--keys nowhere.csv").status, 1);
}

TEST(Tool, FeedsAnObjectFromARecording) {
  const std::string scene = testing::TempDir() + "fed.toml", recording = testing::TempDir() + "pilot";
  const std::string no_keys = " --keys " + testing::TempDir() + "no-keys.csv";
  std::ofstream{testing::TempDir() + "no-keys.csv"} << "time,key,change\n";
  std::ofstream{scene} << "hushed = 1\n[object.pilot]\nfed = true\n[object.tug]\n[[object.tug.behaviour]]\n"
                          "kind = \"follow\"\ntarget = \"pilot\"\nhalf_life = 0.5\n";
  for (const std::string format : {".csv", ".jsonl", ".glb"}) {
    ASSERT_EQ(play("--seconds 5 --record " + recording + format + no_keys).status, 0);
    const std::string watch = " --fps 6 --seconds 5 --format csv --watch pilot.position";
    const auto fed = lines(shell("hushed play " + scene + " --feed " + recording + format + watch).output);
    const auto original = lines(play(no_keys + watch).output);
    ASSERT_EQ(fed.size(), original.size());
    for (std::size_t row = 1; row < fed.size(); ++row) {
      double a[3], b[3];
      ASSERT_EQ(sscanf(fed[row].c_str(), "%*d,%*f,%lf,%lf,%lf", a, a + 1, a + 2), 3);
      ASSERT_EQ(sscanf(original[row].c_str(), "%*d,%*f,%lf,%lf,%lf", b, b + 1, b + 2), 3);
      for (int i = 0; i < 3; ++i) EXPECT_NEAR(a[i], b[i], format == ".csv" ? 0 : 1e-5) << row;
    }
  }
  const Result none = play("--feed " + recording + ".csv");
  EXPECT_EQ(none.status, 2);
  EXPECT_TRUE(none.output.find("has no object with fed = true whose name is in the recording") != none.output.npos);
}

TEST(Tool, SetsAPresetForAllItsUsers) {
  const auto rows = [](const std::string& set) {
    return lines(play("--seconds 3 --fps 1 --watch gig.position.y,punt.position.y --format csv" + set).output);
  };
  const auto before = rows(""), after = rows(" --set preset.bobbing.swell.frequency=0.9");
  ASSERT_EQ(before.size(), after.size());
  const auto part = [](const std::string& row, int number) {
    std::stringstream in{row};
    std::string text;
    for (int i = 0; i <= number; ++i) std::getline(in, text, ',');
    return text;
  };
  EXPECT_NE(part(before.back(), 2), part(after.back(), 2));
  EXPECT_EQ(part(before.back(), 3), part(after.back(), 3));  // the punt has a value of its own
  EXPECT_EQ(play("--set preset.bobing.swell.frequency=1").status, 2);
}

TEST(Tool, RecordsAndPrintsAtOnceIfAsked) {
  const std::string file = testing::TempDir() + "both.csv";
  const auto rows =
      lines(play("--frames 3 --watch lamp.rotation.yaw --format csv --record " + file + " 2>/dev/null").output);
  EXPECT_EQ(rows.size(), 5U);
  EXPECT_EQ(play("--frames 3 --record " + file).output, "hushed: recorded 4 frames of 73 objects in " + file + ".\n");
  EXPECT_EQ(lines(shell("cat " + file).output).size(), 5U);
  const Result wrong = play("--frames 3 --record harbour.mov");
  EXPECT_EQ(wrong.status, 2);
  EXPECT_NE(wrong.output.find(".csv, .jsonl, .glb or .gltf"), std::string::npos);
  EXPECT_EQ(play("--frames 3 --record /no/such/place.glb").status, 1);
}

TEST(Tool, ComparesScenesAndRecordings) {
  const std::string file = testing::TempDir() + "kept.csv", other = testing::TempDir() + "kept.glb";
  play("--frames 90 --fps 30 --record " + file);
  play("--frames 90 --fps 30 --record " + other);
  const Result same = shell("hushed compare " + harbour + " " + file);
  EXPECT_EQ(same.status, 0) << same.output;
  EXPECT_NE(same.output.find("91 equal times, from 0 s to 3 s."), std::string::npos);
  EXPECT_EQ(shell("hushed compare " + file + " " + other).status, 1);
  EXPECT_EQ(shell("hushed compare " + file + " " + other + " --tolerance position=1e-5,rotation=0.001deg").status, 0);
  const Result changed =
      shell("hushed compare " + harbour + " " + harbour + " --set lamp.spin.speed=50 --seconds 1 --format json");
  EXPECT_EQ(changed.status, 1);
  EXPECT_NE(changed.output.find("\"within\": false"), std::string::npos);
  EXPECT_NE(changed.output.find("\"largest\": 10.0"), std::string::npos) << changed.output;
  const std::string picture = testing::TempDir() + "both.png";
  EXPECT_EQ(shell("hushed compare " + file + " " + other + " --picture " + picture).status, 1);
  EXPECT_EQ(shell("head -c 4 " + picture + " | tail -c 3").output, "PNG");
  EXPECT_EQ(shell("hushed compare " + harbour + " " + file + " --tolerance position=1cm").status, 2);
  EXPECT_EQ(shell("hushed compare " + harbour + " nowhere.csv").status, 1);
}

TEST(Tool, DrawsPictures) {
  const std::string to = testing::TempDir() + "drawn.png";
  EXPECT_EQ(shell("hushed draw " + harbour + " --frames 30 --to " + to).output,
            "hushed: drew 31 frames of 73 objects in " + to + ".\n");
  EXPECT_EQ(shell("hushed draw " + harbour + " --frames 20:30 --vary hook.spring.damping=0.1,1 --from angle --to " + to)
                .output,
            "hushed: drew 11 frames of 73 objects in " + to + ".\n");
  play("--frames 9 --record " + testing::TempDir() + "drawn.csv");
  EXPECT_EQ(shell("hushed draw " + testing::TempDir() + "drawn.csv --to " + to).output,
            "hushed: drew 10 frames of 73 objects in " + to + ".\n");  // as long as the recording
  for (const auto& [options, word] :
       std::vector<std::pair<std::string, std::string>>{{"--vary hook.spring.damping", "PATH=VALUE"},
                                                        {"--vary hook.spring.damping=0.1,low", "give a number"},
                                                        {"--frames 30:20", "or a range such as 240:480"},
                                                        {"--from below", "--from"},
                                                        {"--only fery", "did you mean \"ferry\"?"},
                                                        {"--frames 100000000", "give at most --frames 273972"},
                                                        {"--width 3", "--width"}}) {
    const Result result = shell("hushed draw " + harbour + " --to " + to + " " + options);
    EXPECT_EQ(result.status, 2) << options;
    EXPECT_NE(result.output.find(word), std::string::npos) << options << ": " << result.output;
  }
  EXPECT_EQ(shell("hushed draw " + harbour + " --to picture.gif").status, 2);
}

TEST(Tool, ChecksScenes) {
  const std::string lamp =
      "f=$(mktemp --suffix .toml); printf 'hushed = 1\n[object.lamp]\n[[object.lamp.behaviour]]\n"
      "kind = \"spin\"\n' > $f; hushed check $f; s=$?; rm $f; exit $s";
  const Result nothing = shell(lamp);  // the harbour is checked in tests/analysis
  EXPECT_EQ(nothing.output, "Nothing found.\n");
  EXPECT_EQ(nothing.status, 0);
  const std::string mistakes = SOURCES "/scenes/mistakes.toml";
  const Result found = shell("hushed check " + mistakes);
  EXPECT_EQ(found.status, 1);
  for (const char* word : {"lamp: mistake [round-turn]", "tug: mistake [falls-behind], frame 600 (10.000 s)",
                           "Hint: ", "4 found; 2 ignored by the scene file."})
    EXPECT_NE(found.output.find(word), std::string::npos) << word << found.output;
  const std::string json = shell("hushed check " + mistakes + " --format json").output;
  EXPECT_NE(json.find("\"ignored_because\": \"a bell is meant to\""), std::string::npos);
  EXPECT_NE(shell("hushed check --codes").output.find("up-along-view"), std::string::npos);
  EXPECT_EQ(shell("hushed check").status, 2);
  EXPECT_EQ(shell("\"$tool\" check " + harbour + " --frames 200000 & sleep 0.5; kill -INT $!; wait $!; echo status $?")
                    .output.find("status 130") == std::string::npos,
            false);
}

TEST(Tool, TestsWhatAFileExpectsOfTheMotion) {
  const std::string gig =
      "f=$(mktemp --suffix .toml); printf 'hushed = 1\n[object.gig]\n[[object.gig.behaviour]]\n"
      "kind = \"sway\"\namplitude = [0, 2, 0]\n[[expect]]\nmeasure = \"peak(gig.position.y)\"\nbelow = 3\n"
      "[[expect]]\nname = \"high & low\"\nmeasure = \"reached(gig.position.y, -1)\"\nbelow = 0.5\n' > $f; ";
  const Result failed = shell(gig + "hushed check $f");
  EXPECT_EQ(failed.status, 1);
  EXPECT_NE(failed.output.find("high & low: mistake [unexpected], frame 35 (0.583 s)"), std::string::npos)
      << failed.output;
  EXPECT_NE(failed.output.find("reached(gig.position.y, -1) is 0.583333 s at 0.583333 s, but must be below 0.5."),
            std::string::npos);
  EXPECT_NE(failed.output.find("limit in line 11"), std::string::npos);
  const std::string junit = shell(gig + "hushed check $f --format junit").output;
  EXPECT_NE(junit.find("tests=\"3\" failures=\"1\""), std::string::npos) << junit;
  EXPECT_NE(junit.find("<testcase classname=\"expect\" name=\"high &amp; low\">"), std::string::npos);
  EXPECT_EQ(shell("sed 's/expect]]/expcet]]/' " + harbour + " > h.toml; hushed check h.toml; s=$?; rm h.toml; exit $s")
                .status,
            1);
}

TEST(Tool, PrintsMeasures) {
  const std::string measures =
      "--seconds 6 --measure 'reached(lamp.rotation.yaw, 90)' --measure 'count(flag-goes-up)' "
      "--measure 'reached(lamp.rotation.yaw, -1)'";
  EXPECT_EQ(play(measures).output,
            "measure                                  value  unit      at\n"
            "reached(lamp.rotation.yaw, 90)        2.250000  s         2.250000 s\n"
            "count(flag-goes-up)                   1.000000\n"
            "reached(lamp.rotation.yaw, -1)            none  s\n");
  EXPECT_EQ(play(measures + " --format csv").output,
            "measure,value,unit,at\n\"reached(lamp.rotation.yaw, 90)\",2.25,s,2.25\ncount(flag-goes-up),1,,\n"
            "\"reached(lamp.rotation.yaw, -1)\",,s,\n");
  EXPECT_NE(play(measures + " --format jsonl").output.find("{\"measure\":\"count(flag-goes-up)\",\"value\":1.0"),
            std::string::npos);
  EXPECT_EQ(play("--measure 'peek(lamp.rotation.yaw)'").status, 2);
  EXPECT_EQ(play("--measure 'peak(lamp.rotation.yaw)' --events").status, 2);
  EXPECT_NE(shell("hushed describe measures").output.find("overshoot(WATCH, of = VALUE)"), std::string::npos);
}

struct Mistake {
  const char* options;
  int status;
  const char* message;
};
class Mistakes : public testing::TestWithParam<Mistake> {};

TEST_P(Mistakes, AreReported) {
  const auto [options, status, message] = GetParam();
  const Result result = shell(std::string{"mkfifo /tmp/pipe-$$ 2>/dev/null; H="} + harbour +
                              "; P=/tmp/pipe-$$; timeout 20 \"$tool\" " + options + "; S=$?; rm -f $P; exit $S");
  EXPECT_EQ(result.status, status) << result.output;
  EXPECT_NE(result.output.find(message), std::string::npos) << result.output;
}
INSTANTIATE_TEST_SUITE_P(
    Tool, Mistakes,
    testing::Values(Mistake{"play $H --fps nan", 2, "--fps: found \"nan\"; give a number from 0.001 to 1000000"},
                    Mistake{"play $H --seconds nan", 2, "--seconds: found \"nan\"; give a number from 0 to 1000000"},
                    Mistake{"check $H --tick-rate nan", 2, "--tick-rate: found \"nan\"; give a number from 1 to 10000"},
                    Mistake{"play $H --fps 1e400", 2, "--fps: found \"1e400\"; give a number"},
                    Mistake{"play $H --uneven -1", 2, "--uneven: found \"-1\"; give a whole number"},
                    Mistake{"play $H --record ''", 2, "--record: give the name of a file"},
                    Mistake{"play $P", 1, "this is a pipe or a device"},
                    Mistake{"live $H --host nowhere", 2,
                            "--host: found \"nowhere\"; give an IP address of this computer"},
                    Mistake{"fly", 2, "unknown command \"fly\""}, Mistake{"plya $H", 2, "did you mean \"play\"?"},
                    Mistake{"help plya", 2, "did you mean \"play\"?"}, Mistake{"help help", 0, "Subcommands:"},
                    Mistake{"", 0, "Subcommands:"}, Mistake{"help play", 0, "Usage: hushed play"},
                    Mistake{"play $H --frmes 3", 2, "unknown option \"--frmes\"; did you mean \"--frames\"?"},
                    Mistake{"play $H surplus", 2, "unexpected argument \"surplus\""},
                    Mistake{"draw $H --vary lampp.spin.speed=1,2", 2, "--vary lampp.spin.speed: no object"},
                    Mistake{"--help > /dev/full", 1, "the output cannot be written"}),
    [](const auto& info) {
      std::string name;  // the words of the command line
      bool begins_word = true;
      for (const char c : std::string_view{info.param.options}) {
        const bool is_letter = std::isalnum(static_cast<unsigned char>(c)) != 0;
        if (is_letter) name += begins_word ? static_cast<char>(std::toupper(static_cast<unsigned char>(c))) : c;
        begins_word = !is_letter;
      }
      return name.empty() ? std::string{"Nothing"} : name;
    });

TEST(Tool, ContinuesWhereTheWatchedObjectHasEnded) {
  const std::string scene =
      "F=$(mktemp --suffix .toml); printf 'hushed = 1\\n[object.rocket]\\n[[object.rocket.behaviour]]\\nkind = "
      "\"travel\"\\nvelocity = [1, 0, 0]\\n[[rule]]\\nname = \"end\"\\nwhen = [{ after = 0.5 }]\\ndo = [{ end = "
      "\"rocket\" }]\\n' > "
      "$F; ";
  const Result table = shell(scene + "hushed play $F --fps 10 --seconds 1 --format csv");
  EXPECT_EQ(table.status, 0) << table.output;
  EXPECT_EQ(lines(table.output).back(), "10,1,,,");
  const Result json = shell(scene + "hushed play $F --fps 10 --seconds 1 --format jsonl --watch rocket.speed");
  EXPECT_EQ(lines(json.output).back(), R"({"frame":10,"time":1,"rocket.speed":null})");
  const Result drawn = shell(scene + "hushed draw $F --to $F.png && rm $F $F.png");
  EXPECT_EQ(drawn.status, 0) << drawn.output;
}

TEST(Tool, StopsWithinALongFrame) {
  const Result result = shell("timeout --foreground -s INT 3 \"$tool\" play " + harbour +
                              " --fps 0.001 --frames 10 --watch lamp.rotation.yaw; echo $?");
  EXPECT_NE(result.output.find("stopped after frame 0 of 10"), std::string::npos) << result.output;
}

TEST(Tool, RecordsThroughALinkWithoutReplacingIt) {
  const Result result = shell("D=$(mktemp -d); ln -s real.csv $D/link.csv; hushed play " + harbour +
                              " --frames 2 --record $D/link.csv && test -L $D/link.csv && test -s $D/real.csv; S=$?; "
                              "rm -r $D; exit $S");
  EXPECT_EQ(result.status, 0) << result.output;
}

TEST(Tool, AcceptsAReaderThatClosesThePipe) {
  const Result result = shell("hushed play " + harbour + " --frames 1000000 | head -n 3; echo ${PIPESTATUS[0]}");
  const auto rows = lines(result.output);
  ASSERT_EQ(rows.size(), 4U) << result.output;
  EXPECT_EQ(rows[3], "0");
}

TEST(Tool, ReportsWhereItsOutputCannotBeWritten) {
  const Result result = shell("hushed play " + harbour + " > /dev/full");
  EXPECT_EQ(result.status, 1);
  EXPECT_EQ(result.output, "hushed: the output cannot be written: No space left on device.\n");
}

TEST(Tool, EndsCleanlyWhenItIsInterrupted) {
  const Result result = shell("\"$tool\" play " + harbour + " --frames 1000000000 --format csv > " +
                              testing::TempDir() + "long.csv & sleep 0.5; kill -INT $!; wait $!; echo status $?");
  EXPECT_NE(result.output.find("stopped after frame"), std::string::npos) << result.output;
  EXPECT_NE(result.output.find("status 130"), std::string::npos) << result.output;
  std::ifstream in{testing::TempDir() + "long.csv"};
  std::string line, last;
  while (std::getline(in, line)) last = line;
  EXPECT_EQ(std::count(last.begin(), last.end(), ','), 7) << last;  // frame, time, six numbers: complete
  std::remove((testing::TempDir() + "long.csv").c_str());
}

TEST(Tool, ServesPlayModeUntilItIsInterrupted) {
  const std::string place = testing::TempDir() + "address.txt";
  const Result result = shell("rm -f " + place + "; \"$tool\" live " + harbour + " > " + place + R"( 2> /dev/null &
for i in $(seq 100); do [ -s )" +
                              place + " ] && break; sleep 0.1; done; address=$(cat " + place + R"()
host=${address#http://}; host=${host%%/*}; target=/${address#http://*/}
exec 3<> "/dev/tcp/127.0.0.1/${host#*:}"
printf 'GET %s HTTP/1.1\r\nHost: %s\r\n\r\n' "$target" "$host" >&3
cat <&3 | tr -d '\r' | sed -n '1p; /<title>/p'
kill -INT $!; wait $!; echo "status $?")");
  EXPECT_NE(result.output.find("HTTP/1.1 200 OK\n"), std::string::npos) << result.output;
  EXPECT_NE(result.output.find("<title>Hushed Orbit</title>"), std::string::npos) << result.output;
  EXPECT_NE(result.output.find("status 0\n"), std::string::npos) << result.output;
}

TEST(Tool, ReportsWhyPlayModeCannotBeServed) {
  struct Case {
    const char* options;
    int status;
    const char* word;
  };
  for (const auto& [options, status, word] :
       std::vector<Case>{{"--port 99999", 2, "--port"},
                         {"--token short", 2, "16 to 128"},
                         {"--fps 0", 2, "--fps"},
                         {"--tabs 0", 2, "--tabs"},
                         {"--host 192.0.2.1", 1, "an address of this computer"}}) {
    const Result result = shell("timeout 10 \"$tool\" live " + harbour + ' ' + options);
    EXPECT_EQ(result.status, status) << options << result.output;
    EXPECT_NE(result.output.find(word), std::string::npos) << result.output;
  }
  EXPECT_NE(shell("hushed live nowhere.toml").output.find("the file does not exist"), std::string::npos);
}

TEST(Tool, DescribesKindsAndFields) {
  EXPECT_EQ(shell("hushed --version").output.substr(0, 7), "hushed ");
  EXPECT_NE(shell("hushed describe").output.find("travel"), std::string::npos);
  const std::string spin = shell("hushed describe spin").output;
  for (const char* word : {"speed", "deg/s", "default: 90", "fade", "kind  = \"spin\""})
    EXPECT_NE(spin.find(word), std::string::npos) << word;
  EXPECT_NE(shell("hushed describe --schema").output.find("\"$schema\""), std::string::npos);
  const std::string winch = shell("hushed describe " SOURCES "/scenes/scripts/winch.lua").output;
  EXPECT_EQ(winch.rfind("winch: hauls its load up or down, and lets it settle\n", 0), 0U);
  EXPECT_NE(winch.find("speed = 1.5\n"), std::string::npos);
  EXPECT_EQ(shell("hushed describe missing.lua").status, 1);
  for (const char* command : {"hushed --help", "hushed play --help", "hushed describe --help"}) {
    const Result help = shell(command);
    EXPECT_EQ(help.status, 0);
    EXPECT_NE(help.output.find("Examples:"), std::string::npos);
  }
}

TEST(Tool, ShowsEveryEasingAsASmallCurve) {
  const Result plain = shell("LC_ALL=C hushed describe easing"),
               dotted = shell("LC_ALL=C.UTF-8 hushed describe easing");
  EXPECT_EQ(plain.status, 0);
  const auto rows = lines(plain.output);
  const auto linear =
      std::find_if(rows.begin(), rows.end(), [](const auto& row) { return row.starts_with("  linear "); });
  ASSERT_GT(rows.end() - linear, 3);
  EXPECT_EQ((linear + 1)->substr(2, 14), "         ...-'");  // it rises from the lower left to the upper right
  EXPECT_EQ((linear + 3)->substr(2, 5), ".-'''");
  for (const char* name :
       {"smootherstep", "in-out-elastic", "ease-in-out", "step-end", "cubic-bezier(", "steps(", "linear("})
    for (const Result& result : {plain, dotted}) EXPECT_NE(result.output.find(name), std::string::npos) << name;
  const auto beyond_ascii = [](char c) { return static_cast<unsigned char>(c) > 127; };
  EXPECT_TRUE(std::none_of(plain.output.begin(), plain.output.end(), beyond_ascii));
  EXPECT_TRUE(std::any_of(dotted.output.begin(), dotted.output.end(), beyond_ascii));
}

TEST(Tool, ExplainsEachKindByAnExampleThatPlays) {
  int kinds = 0;
  std::filesystem::copy_file(SOURCES "/scenes/artist.glb", testing::TempDir() + "artist.glb",
                             std::filesystem::copy_options::overwrite_existing);
  for (const std::string& line : lines(shell("hushed describe").output)) {
    if (!line.starts_with("  ")) continue;
    ++kinds;
    const std::string kind = line.substr(2, line.find(' ', 2) - 2);
    const std::string text = shell("hushed describe " + kind).output;
    const std::string file = testing::TempDir() + kind + ".toml";
    std::ofstream{file} << "hushed = 1\n[object.ferry]\n" << text.substr(text.find("Example:\n") + 9);
    EXPECT_EQ(shell("hushed play " + file + " --frames 1").status, 0) << kind;
  }
  EXPECT_EQ(kinds, 17);
}

}  // namespace
