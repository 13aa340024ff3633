// SPDX-License-Identifier: MIT
// `hushed sweep` and `hushed solve`, run as processes.

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "shell.hpp"

namespace hushed::tests {
namespace {

/// A scene of its own in a new folder.
class Studied : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = testing::TempDir() + "studied_" + testing::UnitTest::GetInstance()->current_test_info()->name();
    std::filesystem::remove_all(folder_);
    std::filesystem::create_directories(folder_);
    std::ofstream{folder_ + "/hook.toml"} << scene;
  }
  Result run(const std::string& commands) const { return shell("cd " + folder_ + "\n" + commands); }
  std::string text(const std::string& name) const {
    std::ifstream in{folder_ + '/' + name};
    return {std::istreambuf_iterator<char>{in}, {}};
  }
  static std::vector<std::string> sorted(const std::string& text) {
    std::vector<std::string> all = lines(text);
    std::sort(all.begin(), all.end());
    return all;
  }

  static constexpr const char* scene =
      "hushed = 1\n\n[object.goal]\nposition = [3, 0, 0]\n\n[object.hook]\n[[object.hook.behaviour]]\n"
      "kind = \"spring\"   # it swings\ntarget = \"goal\"\nfrequency = 0.6\ndamping = 0.15\n";
  static constexpr const char* swept =
      "sweep hook.toml --vary hook.spring.damping=0.1:1:7 --vary hook.spring.frequency=1,2 --seconds 4 "
      "--measure 'overshoot(hook.position.x, of = 3)' --measure 'settled(hook.position.x, of = 3)' ";

 private:
  std::string folder_;
};

TEST_F(Studied, SweepsGiveTheNumbersOfSinglePlays) {
  const Result whole = run("hushed " + std::string{swept} + "--format csv");
  ASSERT_EQ(whole.status, 0) << whole.output;
  std::vector<std::string> rows = lines(whole.output);
  ASSERT_EQ(rows.size(), 15u) << whole.output;
  EXPECT_EQ(rows[0],
            "play,plays,hook.spring.damping,hook.spring.frequency,\"overshoot(hook.position.x, of = "
            "3)\",\"settled(hook.position.x, of = 3)\"");
  for (const std::string& row : rows) {
    if (!row.starts_with("5,14,")) continue;
    EXPECT_TRUE(row.starts_with("5,14,0.4,2,")) << row;
    const Result single = run(
        "hushed play hook.toml --set hook.spring.damping=0.4 --set hook.spring.frequency=2 --seconds 4 --format csv "
        "--measure 'overshoot(hook.position.x, of = 3)' --measure 'settled(hook.position.x, of = 3)' | "
        "sed -E 's/\"[^\"]*\"//' | cut -d, -f2 | tail -n 2 | paste -sd,");
    EXPECT_EQ(row, "5,14,0.4,2," + single.output.substr(0, single.output.size() - 1));
  }
  EXPECT_EQ(sorted(run("hushed " + std::string{swept} + "--format csv --threads 3").output), sorted(whole.output));
}

TEST_F(Studied, SweepsAreInterruptedAndContinued) {
  const std::string expected = run("hushed " + std::string{swept} + "--format csv").output;
  // Long plays, of which at least one is finished when it is interrupted.
  std::string command = std::string{swept} + "--threads 1 --continue rows.csv";
  command.replace(command.find("--seconds 4"), 11, "--seconds 400");
  const Result stopped = run("\"$tool\" " + command +
                             " & while [ $(cat rows.csv 2> /dev/null | wc -l) -lt 2 ]; do sleep 0.05; done\n"
                             "kill -INT $!; wait $!; echo status $?");
  EXPECT_NE(stopped.output.find("status 130"), std::string::npos) << stopped.output;
  EXPECT_NE(stopped.output.find("give the same command again to continue"), std::string::npos) << stopped.output;
  EXPECT_GE(lines(text("rows.csv")).size(), 2u);

  // The rows that are there are not played again: they are still there, in front.
  run("rm rows.csv\nhushed " + std::string{swept} + "--part 1/3 --continue rows.csv");
  const std::string before = text("rows.csv") + "6,14,0.55,1";  // a row that a power cut has left
  run("printf '6,14,0.55,1' >> rows.csv");
  ASSERT_EQ(text("rows.csv"), before);
  EXPECT_EQ(run("hushed " + std::string{swept} + "--continue rows.csv").status, 0);
  EXPECT_TRUE(text("rows.csv").starts_with(before.substr(0, before.rfind('\n') + 1)));
  EXPECT_EQ(sorted(text("rows.csv")), sorted(expected));

  const Result other = run("sed -i 's/0.6/0.7/; s/position = .3/position = [4/' hook.toml\nhushed " +
                           std::string{swept} + "--continue rows.csv");
  EXPECT_EQ(other.status, 2);
  EXPECT_NE(other.output.find("another result now; the scene has changed"), std::string::npos) << other.output;
  EXPECT_EQ(sorted(text("rows.csv")), sorted(expected));
}

TEST_F(Studied, SweepsArePlayedInPartsByOtherJobRunners) {
  const std::string expected = run("hushed " + std::string{swept} + "--format csv --threads 1").output;
  const Result joined = run("parallel --will-cite -q -j 3 \"$tool\" " + std::string{swept} +
                            "--threads 1 --part {}/4 --continue part-{}.csv ::: 1 2 3 4\n"
                            "hushed sweep --join part-*.csv --format csv");
  EXPECT_EQ(joined.output, expected);
  const Result lacking = run("hushed sweep --join part-1.csv part-4.csv --format csv > some.csv");
  EXPECT_EQ(lacking.status, 1);
  EXPECT_EQ(lacking.output, "hushed: 7 of 14 plays; missing: 1, 2, 5, 6, 9, 10, 13.\n");
}

TEST_F(Studied, SweepsAreDrawn) {
  for (const std::string values :
       {"--vary hook.spring.damping=0.1:1:4", "--vary hook.spring.damping=0.1:1:4 --vary hook.spring.frequency=0.2:2:4",
        "--sampling sobol --plays 8 --vary hook.spring.damping=0.1:1 "
        "--vary hook.spring.frequency=0.2:2 --vary hook.spring.velocity.x=-1:1"}) {
    const Result result = run("hushed sweep hook.toml --seconds 4 --measure 'settled(hook.position.x, of = 3)' " +
                              values + " --picture out.svg > rows.txt");
    EXPECT_EQ(result.status, 0) << result.output;
    const std::string svg = text("out.svg");
    EXPECT_NE(svg.find("<svg"), std::string::npos);
    // the present values are marked, in their colour
    EXPECT_NE(svg.find("rgb(67.84%,34.11%,0%)"), std::string::npos) << values;
    run("rm out.svg");
  }
}

TEST_F(Studied, SolvesAndKeeps) {
  const std::string solve =
      "hushed solve hook.toml --change hook.spring.frequency --change hook.spring.damping=0:1 "
      "--want 'overshoot(hook.position.x, of = 3) = 10 %' --want 'settled(hook.position.x, 5%, of = 3) = 0.8s' ";
  const Result found = run(solve + "--format json");
  ASSERT_EQ(found.status, 0) << found.output;
  const auto json = nlohmann::json::parse(found.output);
  // z = -ln 0.1 / sqrt(pi^2 + ln^2 0.1)
  EXPECT_NEAR(json["values"][1]["after"].get<double>(), 0.5911550337988976, 1e-9);
  EXPECT_TRUE(json["met"].get<bool>());
  EXPECT_EQ(text("hook.toml"), scene);
  EXPECT_EQ(run(solve + "--keep --picture motion.svg > /dev/null 2>&1").status, 0);
  std::string kept = scene;
  kept.replace(kept.find("0.15"), 4, "0.591155");
  kept.replace(kept.find("0.6\n"), 3, json["values"][0]["after"].dump().substr(0, 6));
  EXPECT_EQ(text("hook.toml").substr(0, 120), kept.substr(0, 120));
  EXPECT_NE(text("hook.toml").find("damping = 0.591155\n"), std::string::npos);
  EXPECT_NE(text("motion.svg").find("<svg"), std::string::npos);

  const Result against =
      run("hushed solve hook.toml --change hook.spring.damping --keep --seconds 4 --plays 600 "
          "--want 'overshoot(hook.position.x, of = 3) < 5 %' --want 'overshoot(hook.position.x, of = 3) > 20 %'");
  EXPECT_EQ(against.status, 1);
  EXPECT_NE(against.output.find("contradict each other"), std::string::npos) << against.output;
  EXPECT_NE(against.output.find("nothing was kept"), std::string::npos) << against.output;
  EXPECT_NE(text("hook.toml").find("damping = 0.591155\n"), std::string::npos);
}

TEST_F(Studied, RefusesWrongLines) {
  const auto refusal = [&](const std::string& line) {
    const Result result = run("hushed " + line);
    EXPECT_EQ(result.status, 2) << line << '\n' << result.output;
    return result.output;
  };
  const std::string measure = " --measure 'peak(hook.position.x)'";
  EXPECT_EQ(refusal("sweep hook.toml --vary hook.spring.damping=1:0:3" + measure),
            "hushed: --vary hook.spring.damping=1:0:3: the lower end comes first; give PATH=LOW:HIGH:COUNT or "
            "PATH=A,B,C, such as hook.spring.damping=0.1:1:10.\n");
  EXPECT_NE(refusal("sweep hook.toml --vary hook.spring.dampnig=0:1:3" + measure).find("did you mean \"damping\"?"),
            std::string::npos);
  EXPECT_NE(refusal("sweep hook.toml --vary hook.spring.damping=0:1" + measure).find("LOW:HIGH:COUNT"),
            std::string::npos);
  EXPECT_NE(refusal("sweep hook.toml --vary hook.spring.damping=0:nan:3" + measure).find("give PATH=LOW:HIGH:COUNT"),
            std::string::npos);
  EXPECT_NE(refusal("sweep hook.toml --vary hook.spring.damping=0:1:3 --part 4/3" + measure).find("--part 4/3"),
            std::string::npos);
  EXPECT_NE(refusal("solve hook.toml --change hook.spring.target --want 'peak(hook.position.x) = 1'")
                .find("has no usual range"),
            std::string::npos);
  EXPECT_NE(refusal("solve hook.toml --change hook.spring.damping --want 'peak(hook.position.x) = 1 s'")
                .find("is not that of peak; give \"m\" or none."),
            std::string::npos);
}

}  // namespace
}  // namespace hushed::tests
