// SPDX-License-Identifier: MIT
#pragma once

#include <locale.h>
#include <clocale>

namespace hushed::script {

/// On this thread, numbers and the order of texts are those of C while it lives, whatever language the program uses.
class PlainLocale {
 public:
  PlainLocale() : before_{uselocale(plain())} {}
  ~PlainLocale() { uselocale(before_); }
  PlainLocale(const PlainLocale&) = delete;
  PlainLocale& operator=(const PlainLocale&) = delete;

 private:
  static locale_t plain() {
    static const locale_t made = newlocale(LC_ALL_MASK, "C", nullptr);
    return made;
  }
  locale_t before_;
};

}  // namespace hushed::script
