// SPDX-License-Identifier: MIT
#include "read_whole.hpp"

#include <fstream>

#include <hushed/kinds.hpp>
#include <hushed/load.hpp>

namespace hushed::detail {

std::string read_whole(const std::filesystem::path& file, const WhatToRead& what) {
  const std::string most = std::to_string(what.most >> 20) + " MB";
  const auto refuse = [&file](const std::string& text) { throw LoadError{file.string(), {{{}, text}}}; };
  std::error_code error;
  const auto status = std::filesystem::status(file, error);
  if (status.type() == std::filesystem::file_type::not_found) refuse("the file does not exist; check the path.");
  if (error) refuse("the file cannot be accessed: " + error.message() + ".");
  if (std::filesystem::is_directory(status)) refuse("this is a directory; give " + what.such_as + ".");
  if (!std::filesystem::is_regular_file(status)) refuse("this is a pipe or a device; give " + what.such_as + ".");
  if (std::filesystem::is_regular_file(status) && std::filesystem::file_size(file, error) > what.most)
    refuse("the file is larger than " + most + "; give a smaller one.");

  std::ifstream in{file, std::ios::binary};
  if (!in) refuse("the file cannot be opened; check its permissions.");
  std::string text;
  char part[1 << 16];
  while (in.read(part, sizeof part), in.gcount() > 0) {
    text.append(part, static_cast<std::size_t>(in.gcount()));
    if (text.size() > what.most) refuse("the file is larger than " + most + "; give a smaller one.");
  }
  if (in.bad()) refuse("reading failed before the end of the file; check the disk.");
  return text;
}

std::string read_whole(const std::filesystem::path& file, const WhatToRead& what, const Kinds& kinds) {
  if (!kinds.file_reader()) return read_whole(file, what);
  std::string text;
  try {
    text = kinds.file_reader()(file.string());
  } catch (const std::exception& error) {
    throw LoadError{file.string(), {{{}, error.what()}}};
  }
  if (text.size() > what.most)
    throw LoadError{file.string(),
                    {{{}, "the file is larger than " + std::to_string(what.most >> 20) + " MB; give a smaller one."}}};
  return text;
}

}  // namespace hushed::detail
