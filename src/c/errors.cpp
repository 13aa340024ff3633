// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cstring>
#include <new>
#include <string>
#include <vector>

#include <hushed/load.hpp>
#include <hushed/version.hpp>

#include "handles.hpp"

namespace hushed::c {

namespace {

struct Recorded {
  std::string text, file;
  std::int32_t line = 0, column = 0;
};

std::vector<Recorded>& errors() {
  thread_local std::vector<Recorded> of_this_thread;
  return of_this_thread;
}

void record(const LoadError& error) {
  for (const Diagnostic& diagnostic : error.diagnostics())
    errors().push_back({diagnostic.text, error.files()[static_cast<std::size_t>(diagnostic.place.file)],
                        diagnostic.place.line, diagnostic.place.column});
}

hushed_status recorded(hushed_status status, const char* text) {
  errors().push_back({text, {}, 0, 0});
  return status;
}

}  // namespace

void clear_errors() noexcept { errors().clear(); }

hushed_status record_exception() noexcept {
  try {
    try {
      throw;
    } catch (const LoadError& error) {
      record(error);
      return HUSHED_LOAD_ERROR;
    } catch (const DependencyCycle& error) {
      return recorded(HUSHED_DEPENDENCY_CYCLE, error.what());
    } catch (const StaleHandle& error) {
      return recorded(HUSHED_STALE_HANDLE, error.what());
    } catch (const BadValue& error) {
      return recorded(HUSHED_BAD_VALUE, error.what());
    } catch (const std::bad_alloc&) {
      return HUSHED_NO_MEMORY;
    } catch (const std::exception& error) {
      return recorded(HUSHED_ERROR, error.what());
    } catch (...) {
      return recorded(HUSHED_ERROR, "an exception that is not a std::exception.");
    }
  } catch (...) {  // there was no memory for the text
    return HUSHED_NO_MEMORY;
  }
}

void write_text(std::string_view text, char* to, std::size_t size, std::size_t* needed) {
  if (needed) *needed = text.size() + 1;
  if (size == 0) return;
  c::needed(to, "to");
  const std::size_t fits = std::min(text.size(), size - 1);
  std::memcpy(to, text.data(), fits);
  to[fits] = '\0';
}

}  // namespace hushed::c

size_t hushed_error_count() { return hushed::c::errors().size(); }

hushed_error hushed_error_at(size_t number) {
  const auto& errors = hushed::c::errors();
  if (number >= errors.size()) return {"", "", 0, 0};
  const auto& error = errors[number];
  return {error.text.c_str(), error.file.c_str(), error.line, error.column};
}

const char* hushed_version() { return HUSHED_VERSION_STRING; }

hushed_pose hushed_pose_at(double x, double y, double z) { return {{x, y, z}, {0, 0, 0, 1}, {1, 1, 1}}; }
