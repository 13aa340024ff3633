// SPDX-License-Identifier: MIT
// G8: writing replaces the whole file or nothing, and keeps comments and layout (tests/files/keep_test.cpp).

#include <signal.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <fstream>
#include <random>
#include <sstream>

#include <gtest/gtest.h>

#include <hushed/detail/new_file.hpp>
#include <hushed/keep.hpp>
#include <hushed/load.hpp>

namespace hushed::tests {
namespace {

class G8SafeFiles : public ::testing::Test {
 protected:
  G8SafeFiles() {
    std::filesystem::create_directories(folder_);
    // Long enough to be written in many pieces.
    text_ = "hushed = 1\n";
    for (int i = 0; i < 20'000; ++i) text_ += "# A line that nobody must lose, number " + std::to_string(i) + ".\n";
    text_ += "[object.lamp]\n[[object.lamp.behaviour]]\nkind = \"spin\"\nspeed = 10\n";
    std::ofstream{file_} << text_;
  }
  ~G8SafeFiles() override { std::filesystem::remove_all(folder_); }

  std::string read() const {
    std::ostringstream text;
    text << std::ifstream{file_}.rdbuf();
    return text.str();
  }
  std::string with_speed(int speed) const { return text_.substr(0, text_.rfind("10")) + std::to_string(speed) + '\n'; }
  KeepPlan plan(int speed) const {
    return plan_keep(SceneSource{file_}, std::vector<ValueToKeep>{{"lamp.spin.speed", Value{double(speed)}}});
  }
  std::size_t files() const {
    return static_cast<std::size_t>(std::distance(std::filesystem::directory_iterator{folder_}, {}));
  }

  std::filesystem::path folder_ = std::filesystem::temp_directory_path() / ("g8-" + std::to_string(getpid()));
  std::filesystem::path file_ = folder_ / "harbour.toml";
  std::string text_;
};

TEST_F(G8SafeFiles, AKilledSaveLeavesTheOldOrTheNewFile) {
  std::mt19937 random{8};
  const KeepPlan there = plan(20), back = [&] {
    KeepPlan swapped = there;
    std::swap(swapped.before, swapped.after);
    return swapped;
  }();
  const auto begun = std::chrono::steady_clock::now();
  keep(there);
  keep(back);
  const auto two_saves =
      std::chrono::duration_cast<std::chrono::microseconds>(std::chrono::steady_clock::now() - begun);
  std::string left = text_;
  bool saw_old = false, saw_new = false, saw_half = false;
  for (int i = 0; i < 40 || (i < 200 && !(saw_old && saw_new && saw_half)); ++i) {
    const pid_t saver = fork();
    ASSERT_GE(saver, 0);
    if (saver == 0) {
      try {
        for (bool is_new = left != text_;; is_new = !is_new) keep(is_new ? back : there);
      } catch (...) {
      }
      _exit(1);
    }
    usleep(static_cast<useconds_t>(
        random() % static_cast<std::uint64_t>(std::min(2 * two_saves.count(), i < 40 ? 100'000L : 1'000'000L))));
    kill(saver, SIGKILL);
    int status = 0;
    ASSERT_EQ(waitpid(saver, &status, 0), saver);
    ASSERT_TRUE(WIFSIGNALED(status)) << "the saver ended by itself";
    left = read();
    ASSERT_TRUE(left == text_ || left == with_speed(20)) << left.size() << " bytes after kill " << i;
    (left == text_ ? saw_old : saw_new) = true;
    saw_half = saw_half || files() > 1;  // killed while the new file had no name yet
    for (const auto& entry : std::filesystem::directory_iterator{folder_})
      if (entry.path() != file_) std::filesystem::remove(entry.path());
  }
  EXPECT_TRUE(saw_old);
  EXPECT_TRUE(saw_new);
  EXPECT_TRUE(saw_half);
}

TEST_F(G8SafeFiles, ADiskThatIsFullLeavesTheOldFile) {
  const KeepPlan plan = this->plan(20);
  const pid_t saver = fork();
  ASSERT_GE(saver, 0);
  if (saver == 0) {
    signal(SIGXFSZ, SIG_IGN);
    const rlimit limit{100'000, 100'000};
    setrlimit(RLIMIT_FSIZE, &limit);
    try {
      keep(plan);
    } catch (const Error& error) {
      _exit(std::string{error.what()}.find("cannot be written") != std::string::npos ? 42 : 1);
    }
    _exit(0);
  }
  int status = 0;
  waitpid(saver, &status, 0);
  EXPECT_EQ(WEXITSTATUS(status), 42);
  EXPECT_EQ(read(), text_);
  EXPECT_EQ(files(), 1U);
}

TEST_F(G8SafeFiles, ChangesByAnotherProgramAreNotOverwritten) {
  const KeepPlan plan = this->plan(20);
  const std::string theirs = with_speed(33);
  std::ofstream{file_} << theirs;
  EXPECT_THROW(keep(plan), FileChanged);
  EXPECT_EQ(read(), theirs);
  EXPECT_EQ(files(), 1U);
}

TEST_F(G8SafeFiles, ALinkStaysALinkAndAFileKeepsItsPermissions) {
  const auto link = folder_ / "link.toml";
  std::filesystem::create_symlink(file_, link);
  ASSERT_EQ(chmod(file_.c_str(), 0640), 0);
  keep(plan_keep(SceneSource{link}, std::vector<ValueToKeep>{{"lamp.spin.speed", Value{20.0}}}));
  EXPECT_TRUE(std::filesystem::is_symlink(link));
  EXPECT_EQ(read(), with_speed(20));
  struct stat now {};
  ASSERT_EQ(stat(file_.c_str(), &now), 0);
  EXPECT_EQ(now.st_mode & 07777, 0640U);
}

TEST_F(G8SafeFiles, SeveralFilesAreWrittenAllOrNone) {
  // The second file cannot be written: its name is too long for that of a temporary file.
  const std::string kit = std::string(245, 'k') + ".toml";
  std::ofstream{folder_ / kit} << "hushed = 1\n[[preset.bobbing.behaviour]]\nkind = \"sway\"\nfrequency = 1\n";
  const std::string scene = "hushed = 1\ninclude = [\"" + kit +
                            "\"]\n[object.lamp]\nuse = [\"bobbing\"]\n[[object.lamp.behaviour]]\nkind = "
                            "\"spin\"\nspeed = 10\n";
  std::ofstream{file_} << scene;
  const KeepPlan plan = plan_keep(
      SceneSource{file_},
      std::vector<ValueToKeep>{{"lamp.spin.speed", Value{20.0}}, {"preset.bobbing.sway.frequency", Value{2.0}}});
  ASSERT_EQ(plan.after.size(), 2U);
  EXPECT_THROW(keep(plan), Error);
  EXPECT_EQ(read(), scene);
  EXPECT_EQ(files(), 2U);
}

TEST_F(G8SafeFiles, ASaveByAnotherProgramIsPutBack) {
  {
    detail::NewFile next{file_};
    next.write("ours");
    std::ofstream{file_} << "theirs";
    EXPECT_FALSE(next.replace_if_unchanged(text_));
  }
  EXPECT_EQ(read(), "theirs");
  EXPECT_EQ(files(), 1U);
}

TEST_F(G8SafeFiles, ATemporaryFileOfAnotherProgramIsNotOverwritten) {
  const auto part = file_.string() + '.' + std::to_string(getpid()) + ".part";
  std::ofstream{part} << "somebody else's";
  keep(plan(20));
  EXPECT_EQ(read(), with_speed(20));
  std::ostringstream left;
  left << std::ifstream{part}.rdbuf();
  EXPECT_EQ(left.str(), "somebody else's");
}

}  // namespace
}  // namespace hushed::tests
