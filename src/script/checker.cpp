// SPDX-License-Identifier: MIT
#include "checker.hpp"

#include <algorithm>
#include <array>
#include <string>
#include <utility>

#include <hushed/error.hpp>
#include <hushed/name.hpp>

#include "lexer.hpp"

namespace hushed::script {

namespace {

using Kind = Token::Kind;

/// The global variables that a script may set.
constexpr std::array<std::string_view, 5> declarations{"about", "fields", "memory", "apply", "begin"};

/// Words of Lua that scripts cannot use, and what to use instead.
constexpr std::array<std::pair<std::string_view, std::string_view>, 20> missing{{
    {"pairs", "the order of `pairs` differs from run to run; use ipairs, or a loop over numbers"},
    {"next", "the order of `next` differs from run to run; use ipairs, or a loop over numbers"},
    {"setmetatable", "there are no metatables; write functions"},
    {"getmetatable", "there are no metatables; write functions"},
    {"rawset", "there are no metatables; assign"},
    {"rawget", "there are no metatables; use an index"},
    {"math", "use sin, cos, sqrt, abs, min, max, floor, ... without `math.`; angles are in degrees"},
    {"string", "there are no functions for text"},
    {"table", "use # and indices"},
    {"os", "a script sees no clock and no files; use now.time"},
    {"io", "a script sees no files"},
    {"require", "a script is one file"},
    {"dofile", "a script is one file"},
    {"load", "a script is one file"},
    {"tostring", "there are no functions for text; fail takes a text"},
    {"print", "use fail to see a text, or a watch to see a number"},
    {"error", "use fail"},
    {"pcall", "a failure is reported, and the incoming pose passes through"},
    {"coroutine", "there are none; remember where you are in `memory`"},
    {"_G", "there are no global variables; use `memory`"},
}};

struct Variable {
  std::string_view name;
  int function;           ///< the depth of the function that declares it
  bool is_table = false;  ///< a table at the top of the file, which functions may only read
};

class Checker {
 public:
  explicit Checker(std::string_view text) {
    if (text.starts_with('\x1b')) throw Diagnostic{{1, 1}, "this is compiled; give the text of the script."};
    tokens_ = tokens_of(text);
  }

  Outline run() {
    block();
    if (!peek().is("") && peek().kind != Kind::end) unexpected("the end of the file");
    if (!has_apply_) report({1, 1}, "there is no `apply`; write function apply(pose, now, my) ... end.");
    return std::move(outline_);
  }

  std::vector<Diagnostic>& mistakes() { return outline_.mistakes; }

 private:
  // --- tokens ---
  const Token& peek(std::size_t ahead = 0) const { return tokens_[std::min(at_ + ahead, tokens_.size() - 1)]; }
  Token take() {
    Token token = peek();
    if (at_ + 1 < tokens_.size()) ++at_;
    return token;
  }
  bool accept(std::string_view word) {
    if (!peek().is(word)) return false;
    take();
    return true;
  }
  void expect(std::string_view word, std::string_view of_what, TextPlace since) {
    if (accept(word)) return;
    unexpected(std::string{word} + " for " + std::string{of_what} + " in line " + std::to_string(since.line));
  }
  [[noreturn]] void unexpected(const std::string& wanted) const {
    const Token& found = peek();
    throw Diagnostic{found.place,
                     (found.kind == Kind::end ? std::string{"the file ends"} : "found " + in_quotes(found.word)) +
                         "; expected " + wanted + '.'};
  }
  std::string_view name() {
    if (peek().kind != Kind::name) unexpected("a name");
    return take().word;
  }
  void report(TextPlace place, std::string text) { outline_.mistakes.push_back({place, std::move(text)}); }

  // --- scopes ---
  const Variable* find(std::string_view name) const {
    for (auto each = variables_.rbegin(); each != variables_.rend(); ++each)
      if (each->name == name) return &*each;
    return nullptr;
  }
  void declare(std::string_view name, bool is_table = false) { variables_.push_back({name, depth_, is_table}); }
  /// Reads what `body` reads in a scope of its own.
  template <class Body>
  void scope(Body&& body) {
    const std::size_t before = variables_.size();
    nest(body);
    variables_.resize(before);
  }
  template <class Body>
  void nest(Body&& body) {
    constexpr int deepest = 100;
    if (++nesting_ > deepest) throw Diagnostic{peek().place, "this is nested too deeply; simplify it."};
    body();
    --nesting_;
  }

  // --- statements ---
  bool block_ends() const {
    const Token& token = peek();
    return token.kind == Kind::end || token.is("end") || token.is("else") || token.is("elseif") || token.is("until");
  }
  void block() {
    while (!block_ends()) {
      if (accept("return")) {
        if (!block_ends() && !peek().is(";")) expressions();
        accept(";");
        if (!block_ends()) unexpected("the end of the block, as `return` is its last statement");
        return;
      }
      statement();
    }
  }
  void closed_block(std::string_view of_what, TextPlace since) {
    scope([&] { block(); });
    expect("end", of_what, since);
  }

  void statement() {
    const Token first = peek();
    if (accept(";")) return;
    if (accept("break")) return;
    if (accept("::")) {
      name();
      expect("::", "the label", first.place);
    } else if (accept("goto")) {
      outline_.may_repeat = true;
      name();
    } else if (accept("do")) {
      closed_block("`do`", first.place);
    } else if (accept("while")) {
      outline_.may_repeat = true;
      expression();
      expect("do", "`while`", first.place);
      closed_block("`while`", first.place);
    } else if (accept("repeat")) {
      outline_.may_repeat = true;
      scope([&] {
        block();
        expect("until", "`repeat`", first.place);
        expression();
      });
    } else if (accept("if")) {
      do {
        expression();
        expect("then", "`if`", first.place);
        scope([&] { block(); });
      } while (accept("elseif"));
      if (accept("else")) scope([&] { block(); });
      expect("end", "`if`", first.place);
    } else if (accept("for")) {
      loop(first.place);
    } else if (accept("function")) {
      global_function(first.place);
    } else if (accept("local")) {
      local(first.place);
    } else {
      assignment_or_call();
    }
  }

  void loop(TextPlace since) {
    outline_.may_repeat = true;
    std::vector<std::string_view> names{name()};
    while (accept(",")) names.push_back(name());
    if (!accept("=")) {
      if (!peek().is("in")) unexpected("= or in");
      take();
    }
    expressions();
    expect("do", "`for`", since);
    scope([&] {
      for (const std::string_view each : names) declare(each);
      block();
    });
    expect("end", "`for`", since);
  }

  void global_function(TextPlace since) {
    const Token what = peek();
    name();
    is_called_once_ = what.word == "apply" || what.word == "begin";
    if (peek().is(".") || peek().is(":")) {
      report(what.place, "a function of a table would be state that outlasts a call; write local function NAME.");
      while (accept(".") || accept(":")) name();
    } else {
      check_declaration(what, true);
    }
    function_body(since);
  }

  void local(TextPlace since) {
    if (accept("function")) {
      declare(name());
      function_body(since);
      return;
    }
    std::vector<std::string_view> names;
    do {
      names.push_back(name());
      if (accept("<")) {
        const Token attribute = peek();
        if (name() != "const") report(attribute.place, "there is nothing to close; use <const>, or nothing.");
        expect(">", "the attribute", attribute.place);
      }
    } while (accept(","));
    bool is_table = false;
    if (accept("=")) {
      is_table = depth_ == 0 && peek().is("{");
      is_constant_ = depth_ == 0;
      may_open_table_ = is_table;
      expressions();
      is_constant_ = false;
    }
    for (const std::string_view each : names) declare(each, is_table);
  }

  void function_body(TextPlace since) {
    expect("(", "`function`", since);
    const bool is_called_once = std::exchange(is_called_once_, false);
    if (!is_called_once) outline_.may_repeat = true;
    const bool was_constant = std::exchange(is_constant_, false);
    ++depth_;
    scope([&] {
      int number = 0;
      if (!peek().is(")")) do {
          if (accept("...")) break;
          const std::string_view parameter = name();
          declare(parameter);
          if (is_called_once && ++number == 3) my_ = parameter;
        } while (accept(","));
      expect(")", "the parameters", since);
      block();
    });
    --depth_;
    is_constant_ = was_constant;
    expect("end", "`function`", since);
  }

  /// A word that is set without `local`.
  void check_declaration(const Token& what, bool is_function) {
    const std::string word{what.word};
    if (find(what.word)) return check_assignment(what);
    const bool is_known = std::find(declarations.begin(), declarations.end(), what.word) != declarations.end();
    const bool wants_function = what.word == "apply" || what.word == "begin";
    if (depth_ > 0 || !is_known) {
      report(what.place, in_quotes(word) + " is not local, so it would be state that outlasts a call; write local " +
                             word + ", or remember it in `memory`.");
      declare(what.word);  // it is reported once
    } else if (wants_function != is_function) {
      report(what.place,
             in_quotes(word) + (wants_function ? " is a function; write function " + word + "(pose, now, my) ... end."
                                               : " is no function; write " + word + " = ..."));
    }
    if (what.word == "apply") has_apply_ = true;
  }

  /// A local variable that is set.
  void check_assignment(const Token& what) {
    const Variable* variable = find(what.word);
    if (!variable || variable->function == depth_) return;
    report(what.place, in_quotes(what.word) +
                           " belongs to the code around this function, so setting it would be state that "
                           "outlasts a call; remember it in `memory`.");
  }

  void assignment_or_call() {
    const Token first = peek();
    Target target = suffixed(true);
    if (!peek().is("=") && !peek().is(",")) {
      if (!target.is_call) unexpected("= or a call");
      return;
    }
    std::vector<Target> targets{target};
    while (accept(",")) targets.push_back(suffixed(true));
    const Token equals = peek();
    expect("=", "the assignment", first.place);
    for (const Target& each : targets) {
      if (each.is_call) throw Diagnostic{equals.place, "a call cannot be assigned to; assign to a variable."};
      if (each.is_plain)
        find(each.root.word) ? check_assignment(each.root) : check_declaration(each.root, false);
      else
        check_index_assignment(each.root);
    }
    if (depth_ == 0 && targets.size() == 1 && target.is_plain && target.root.word == "fields" && peek().is("{"))
      return fields();
    if (depth_ == 0 && target.is_plain && target.root.word == "memory") outline_.memory = target.root.place;
    expressions();
  }

  /// `a.b = ...`: the table may be of this function, or an argument.
  void check_index_assignment(const Token& root) {
    if (root.kind != Kind::name) return;
    const Variable* variable = find(root.word);
    if (variable && variable->function == depth_) return;
    report(root.place, in_quotes(root.word) +
                           " is not of this function, so changing it would be state that outlasts a call; "
                           "remember it in `memory`.");
  }

  /// The constructor of `fields`, whose entries are remembered.
  void fields() {
    const Token open = take();
    while (!peek().is("}")) {
      outline_.fields.push_back(peek().place);
      entry();
      if (!accept(",") && !accept(";")) break;
    }
    expect("}", "the list", open.place);
  }

  // --- expressions ---
  struct Target {
    Token root = {};
    bool is_plain = false;  ///< a name and nothing else
    bool is_call = false;
  };

  void expressions() {
    do expression();
    while (accept(","));
  }

  static bool is_binary(const Token& token) {
    constexpr std::array<std::string_view, 21> operators{"+",  "-", "*",  "/",   "//", "%", "^", "..", "==", "~=", "<",
                                                         "<=", ">", ">=", "and", "or", "&", "|", "~",  "<<", ">>"};
    return std::any_of(operators.begin(), operators.end(), [&](std::string_view each) { return token.is(each); });
  }
  static bool orders(const Token& token) { return token.is("<") || token.is("<=") || token.is(">") || token.is(">="); }

  void expression() {
    nest([this] {
      bool is_text = operand();
      while (is_binary(peek())) {
        const Token sign = take();
        if (sign.is("^"))
          report(sign.place, "the result of ^ differs from machine to machine; use pow(x, y), or x * x.");
        const bool next_is_text = operand();
        if (orders(sign) && (is_text || next_is_text))
          report(sign.place,
                 "the order of texts depends on the language of the machine; compare by == or ~=, or numbers.");
        is_text = next_is_text;
      }
    });
  }

  /// Returns true for a text.
  bool operand() {
    while (peek().is("-") || peek().is("not") || peek().is("#") || peek().is("~")) take();
    const Token& token = peek();
    if (token.kind == Kind::text && !is_suffix(peek(1))) return take(), true;
    if (token.kind == Kind::number) return take(), false;
    if (accept("nil") || accept("true") || accept("false") || accept("...")) return false;
    if (token.is("{")) return table(), false;
    if (token.is("function")) {
      const TextPlace since = take().place;
      function_body(since);
      return false;
    }
    suffixed();
    return false;
  }

  static bool is_suffix(const Token& token) { return token.is(".") || token.is("[") || token.is(":") || token.is("("); }

  /// `may_be_set`: a statement begins here.
  Target suffixed(bool may_be_set = false) {
    Target target;
    target.root = peek();
    if (accept("(")) {
      expression();
      expect(")", "(", target.root.place);
    } else if (peek().kind == Kind::text) {
      take();
    } else {
      if (peek().kind != Kind::name) unexpected("a value");
      take();
      target.is_plain = true;
      const bool is_set = may_be_set && (peek().is("=") || peek().is(","));
      const Variable* variable = find(target.root.word);
      if (depth_ > 0 && target.root.word == my_) note_reading();
      if (!variable && !is_set) check_word(target.root);
      if (variable && variable->is_table && depth_ > 0 && !is_set) check_reading(target.root);
      if (variable && is_constant_ && peek().is("("))
        report(target.root.place,
               "a value at the top of the file is computed once; call " + in_quotes(target.root.word) + " in apply.");
    }
    while (true) {
      const Token suffix = peek();
      if (accept(".")) {
        name();
        target.is_call = false;
      } else if (accept("[")) {
        expression();
        expect("]", "[", suffix.place);
        target.is_call = false;
      } else if (accept(":")) {
        name();
        if (!peek().is("(") && !peek().is("{") && peek().kind != Kind::text) unexpected("the arguments of a call");
      } else if (accept("(")) {
        if (!peek().is(")")) expressions();
        expect(")", "the arguments", suffix.place);
        target.is_call = true;
      } else if (peek().is("{")) {
        table();
        target.is_call = true;
      } else if (peek().kind == Kind::text) {
        take();
        target.is_call = true;
      } else {
        return target;
      }
      target.is_plain = false;
    }
  }

  /// The parameter that has the fields is named.
  void note_reading() {
    if (peek().is("."))
      outline_.fields_read.emplace(peek(1).word);
    else
      outline_.reads_any_field = true;
  }

  /// A table at the top of the file could be changed through another name.
  void check_reading(const Token& root) {
    const Token& before = at_ > 1 ? tokens_[at_ - 2] : root;
    const bool is_listed = before.is("(") && at_ > 2 && tokens_[at_ - 3].word == "ipairs";
    if (peek().is("[") || peek().is(".") || before.is("#") || is_listed) return;
    report(root.place, "a table at the top of the file is only read: by an index, #, or ipairs.");
  }

  void table() {
    nest([this] {
      const Token open = take();
      if (is_constant_ && !std::exchange(may_open_table_, false))
        report(open.place, "a table at the top of the file holds no other; write two tables, or make it in apply.");
      while (!peek().is("}")) {
        entry();
        if (!accept(",") && !accept(";")) break;
      }
      expect("}", "the table", open.place);
    });
  }

  void entry() {
    if (accept("[")) {
      const TextPlace since = peek().place;
      expression();
      expect("]", "[", since);
      expect("=", "the entry", since);
    } else if (peek().kind == Kind::name && peek(1).is("=")) {
      take();
      take();
    }
    expression();
  }

  /// A word that is not declared in the script.
  void check_word(const Token& token) {
    const auto& known = words();
    if (std::find(known.begin(), known.end(), token.word) != known.end()) return;
    if (depth_ == 0 && std::find(declarations.begin(), declarations.end(), token.word) != declarations.end()) return;
    for (const auto& [word, instead] : missing)
      if (word == token.word)
        return report(token.place, "there is no `" + std::string{word} + "`: " + std::string{instead} + '.');
    std::vector<std::string_view> choices = known;
    for (const Variable& variable : variables_) choices.push_back(variable.name);
    report(token.place, "unknown word " + in_quotes(token.word) + suggestion(token.word, choices));
  }

  std::vector<Token> tokens_;
  std::size_t at_ = 0;
  std::vector<Variable> variables_;
  int depth_ = 0;  ///< of functions
  int nesting_ = 0;
  bool is_constant_ = false;     ///< the value of a local variable at the top of the file is being read
  bool may_open_table_ = false;  ///< and it may be a table
  bool has_apply_ = false;
  std::string_view my_;          ///< the parameter that has the fields
  bool is_called_once_ = false;  ///< the function that begins is `apply` or `begin`
  Outline outline_;
};

}  // namespace

const std::vector<std::string_view>& words() {
  static const std::vector<std::string_view> all{
      "abs",    "atan2",    "clamp", "cos",  "cross",      "dot",    "exp2",   "fail",    "floor", "ipairs",
      "length", "max",      "min",   "mix",  "normalized", "object", "pi",     "pose_of", "pow",   "random",
      "rotate", "rotation", "sin",   "sqrt", "tagged",     "type",   "vector", "where",   "words"};
  return all;
}

Outline outline_of(std::string_view text) {
  Outline refused;
  try {
    Checker checker{text};
    try {
      return checker.run();
    } catch (const Diagnostic& syntax) {
      refused.mistakes = std::move(checker.mistakes());
      refused.mistakes.push_back(syntax);
    }
  } catch (const Diagnostic& mistake) {
    refused.mistakes.push_back(mistake);
  }
  return refused;
}

}  // namespace hushed::script
