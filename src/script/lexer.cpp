// SPDX-License-Identifier: MIT
#include "lexer.hpp"

#include <algorithm>
#include <array>
#include <cctype>
#include <optional>

namespace hushed::script {

namespace {

constexpr std::array<std::string_view, 22> keywords{
    "and", "break", "do",  "else", "elseif", "end",    "false",  "for",  "function", "goto",  "if",
    "in",  "local", "nil", "not",  "or",     "repeat", "return", "then", "true",     "until", "while"};
constexpr std::array<std::string_view, 12> long_signs{
    "...", "<<", ">>", "//", "==", "~=", "<=", ">=", "::", "..", "->", "=>"};

bool begins_name(char letter) { return std::isalpha(static_cast<unsigned char>(letter)) != 0 || letter == '_'; }
bool is_digit(char letter) { return std::isdigit(static_cast<unsigned char>(letter)) != 0; }
bool continues_name(char letter) { return begins_name(letter) || is_digit(letter); }

class Lexer {
 public:
  explicit Lexer(std::string_view text) : text_{text} {}

  std::vector<Token> all() {
    std::vector<Token> tokens;
    do tokens.push_back(next());
    while (tokens.back().kind != Token::Kind::end);
    return tokens;
  }

 private:
  char at(std::size_t ahead = 0) const { return at_ + ahead < text_.size() ? text_[at_ + ahead] : '\0'; }
  TextPlace here() const { return {line_, static_cast<int>(at_ - line_begins_) + 1}; }
  void step(std::size_t count = 1) {
    for (; count > 0 && at_ < text_.size(); --count)
      if (text_[at_++] == '\n') {
        ++line_;
        line_begins_ = at_;
      }
  }

  /// The number of `=` in a long bracket that begins here, "[==["; nothing where none does.
  std::optional<std::size_t> long_bracket() const {
    if (at() != '[') return std::nullopt;
    std::size_t level = 0;
    while (at(1 + level) == '=') ++level;
    return at(1 + level) == '[' ? std::optional{level} : std::nullopt;
  }
  void skip_long(std::size_t level, TextPlace begin, std::string_view what) {
    const std::string close = ']' + std::string(level, '=') + ']';
    const std::size_t end = text_.find(close, at_);
    if (end == std::string_view::npos)
      throw Diagnostic{begin, "this " + std::string{what} + " has no end; add " + close + '.'};
    step(end + close.size() - at_);
  }

  void skip_blanks() {
    while (at_ < text_.size()) {
      if (std::isspace(static_cast<unsigned char>(at())) != 0) {
        step();
      } else if (at() == '-' && at(1) == '-') {
        const TextPlace begin = here();
        step(2);
        if (const auto level = long_bracket())
          skip_long(*level, begin, "comment");
        else
          while (at_ < text_.size() && at() != '\n') step();
      } else {
        return;
      }
    }
  }

  Token next() {
    skip_blanks();
    const TextPlace place = here();
    const std::size_t begin = at_;
    const auto made = [&](Token::Kind kind) { return Token{kind, text_.substr(begin, at_ - begin), place}; };
    if (at_ >= text_.size()) return made(Token::Kind::end);
    if (begins_name(at())) {
      while (continues_name(at())) step();
      Token token = made(Token::Kind::name);
      if (std::find(keywords.begin(), keywords.end(), token.word) != keywords.end()) token.kind = Token::Kind::keyword;
      return token;
    }
    if (is_digit(at()) || (at() == '.' && is_digit(at(1)))) {
      const bool is_hexadecimal = at() == '0' && (at(1) == 'x' || at(1) == 'X');
      while (continues_name(at()) || at() == '.' ||
             ((at() == '+' || at() == '-') && is_exponent(text_[at_ - 1], is_hexadecimal)))
        step();
      return made(Token::Kind::number);
    }
    if (at() == '"' || at() == '\'') {
      skip_text(place);
      return made(Token::Kind::text);
    }
    if (const auto level = long_bracket()) {
      skip_long(*level, place, "text");
      return made(Token::Kind::text);
    }
    for (const std::string_view sign : long_signs)
      if (text_.substr(at_).starts_with(sign)) {
        step(sign.size());
        return made(Token::Kind::sign);
      }
    if (std::string_view{"+-*/%^#&~|<>=(){}[];:,."}.find(at()) == std::string_view::npos)
      throw Diagnostic{place, "a script is text in Lua 5.4; this character means nothing there."};
    step();
    return made(Token::Kind::sign);
  }

  static bool is_exponent(char letter, bool is_hexadecimal) {
    return is_hexadecimal ? letter == 'p' || letter == 'P' : letter == 'e' || letter == 'E';
  }

  void skip_text(TextPlace begin) {
    const char quote = at();
    step();
    while (at() != quote) {
      if (at_ >= text_.size() || at() == '\n')
        throw Diagnostic{begin, std::string{"this text has no end; add "} + quote + '.'};
      step(at() == '\\' ? 2 : 1);
    }
    step();
  }

  std::string_view text_;
  std::size_t at_ = 0, line_begins_ = 0;
  int line_ = 1;
};

}  // namespace

std::vector<Token> tokens_of(std::string_view text) { return Lexer{text}.all(); }

}  // namespace hushed::script
