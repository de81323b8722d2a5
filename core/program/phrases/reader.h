#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "program/phrases/tokens.h"
#include "text/message.h"

namespace ignavo::phrases {

// What cannot be read one way: what is asked, about which bytes of what was typed, and phrases
// that say it plainly.
struct Question {
  Message problem;
  std::size_t at = 0, length = 0;
  std::vector<std::string> choices;
  bool plain = false;             // it is understood, but open; else something in it is not known
  std::vector<std::string> pins;  // one of these is meant by what stands there
};

// Reads tokens as canonical phrases: a line each, bodies indented by two spaces. What is read is
// read again, strictly, by whoever asked: this only finds the words.
class PhraseReader {
 public:
  PhraseReader(const Tokens& tokens, const Vocabulary& words);

  // One or several steps.
  std::optional<std::vector<std::string>> steps();
  // The sign of a lane; nothing where it does not begin like one.
  std::optional<std::string> sign();
  // Behind a sign: the steps of its lane.
  std::optional<std::vector<std::string>> stepsBehind();
  // A condition, as an expression.
  std::optional<std::string> condition();
  // A value, as an expression: terms with signs between them. Units that are not among those are
  // not taken.
  using Units = std::initializer_list<Concept>;
  static const Units anyUnit;
  std::optional<std::string> value(Units units = anyUnit);
  bool atEnd() const { return at_ >= tokens_.size(); }
  const std::optional<Question>& question() const { return question_; }

 private:
  using Lines = std::vector<std::string>;
  using Text = std::optional<std::string>;
  using Is = PinPart::Is;
  using Phrase = std::function<std::string(const std::string& pin)>;

  // ---- tokens
  bool is(Concept c, std::size_t ahead = 0) const;
  bool isSign(const char* sign, std::size_t ahead = 0) const;
  const Token* peek(std::size_t ahead = 0) const;
  bool take(Concept c);
  bool takeSign(const char* sign);
  void skip(std::initializer_list<Concept> some);
  bool isUnit(std::size_t ahead) const;
  void readOrdinals();
  // Of what was typed, from the token that is next.
  std::string rest() const;
  std::nullopt_t fail(Message problem, std::vector<std::string> choices = {});
  std::nullopt_t failAt(std::size_t token, Message problem, std::vector<std::string> choices = {});
  std::nullopt_t unknown();

  // ---- pins
  std::vector<std::string> inWords(const std::vector<std::string>& pins) const;
  const PinPart* part(const std::string& pin, Is is) const;
  // The one pin that a token means; asks where it could be several. `phrase` makes a choice of one.
  Text onePin(const Token& token, const Phrase& phrase);
  std::nullopt_t askWhich(std::size_t token, const std::vector<std::string>& pins,
                          std::vector<std::string> choices);
  Text onlyOf(Is is, const char* what, const Phrase& phrase);
  std::optional<Lines> pinList();

  // ---- values
  Text term(Units units);
  Text unitOf(double number, Units units);
  // That much less of a variable.
  static std::string lessBy(const std::string& by, const std::string& variable);
  Text randomNumber();
  Text listItem();
  std::optional<double> duration();
  Text durationText();

  // ---- conditions
  // The test of a phrase that begins so; what is followed from turn to turn is asked.
  Text test(const std::string& head);
  bool endsTest(std::size_t ahead) const;
  Text either();
  Text both();
  Text atom();
  Text pinAtom(const Token& token);
  Text compared(const std::string& left);
  Text compareWith(std::string& left, const std::string& sign = ">");
  static std::string opposite(const std::string& test);
  std::string pressedText(const std::string& pin, bool pressed) const;
  std::string litText(const std::string& pin, bool lit) const;
  Text followed(std::string so);
  Text decides();
  Text heldText(const std::string& pin);

  // ---- several steps, and what stands around them
  std::optional<Lines> sequence();
  std::optional<Lines> under(std::size_t began, Lines lines);
  std::optional<Lines> afterStatement();
  std::optional<Lines> body();
  bool startsStatement() const;

  // ---- one step, by what it begins with (reader_control, reader_actions, …)
  std::optional<Lines> statement();
  std::optional<Lines> forEver();
  std::optional<Lines> ifStatement();
  std::optional<Lines> loopStatement(const std::string& head);
  std::optional<Lines> whileStatement();
  std::optional<Lines> repeatStatement();
  std::optional<Lines> waitStatement();
  std::optional<Lines> holdStatement();
  std::optional<Lines> stopStatement();
  std::optional<Lines> runStatement();
  std::optional<Lines> flipStatement();
  std::optional<Lines> levelStatement();
  struct Level {
    bool on = false, byPart = false, said = false;  // by part: as what hangs there wants it
  };
  void takeLevel(Level& level);
  std::optional<Lines> levelOf(const Lines& pins, std::size_t from);
  std::optional<Lines> numberOf(const Lines& pins, std::size_t from);
  std::optional<Lines> forStatement();
  std::optional<Lines> onFor(const Lines& pins, bool on, bool byPart);
  std::optional<Lines> levelsOf(const Lines& pins, bool on, bool byPart);
  std::optional<Lines> blinkStatement();
  std::optional<Lines> blinking(const Lines& pins);
  std::optional<Lines> dimStatement();
  std::optional<Lines> share(const std::string& pin);
  std::optional<Lines> shares(const Lines& pins);
  std::optional<Lines> toneStatement();
  std::optional<Lines> silenceStatement();
  std::optional<Lines> turnStatement();
  std::optional<Lines> angle(const std::string& pin);
  std::optional<Lines> numberStatement();
  std::optional<Lines> randomStatement();
  std::optional<Lines> nameStatement();
  std::optional<Lines> newNameStatement();
  std::optional<Lines> assign(const std::string& name, const Token& at, bool known);
  std::optional<Lines> sumStatement();
  std::optional<Lines> listStatement();
  std::optional<Lines> sayStatement(const char* verb);
  Text saidValues(std::size_t end);

  // ---- signs
  Text each();
  Text keySign();

  std::vector<Token> tokens_;  // without fillers
  std::string typed_;
  const Vocabulary& words_;
  std::size_t at_ = 0;
  int depth_ = 0;
  Lines last_;             // pins that were set last: "it"
  bool called_ = false;    // brackets of a call were left out
  std::string plainTest_;  // of the sign that was read last
  bool signal_ = false;    // the condition follows something from turn to turn
  std::string said_;       // of the phrase, before what is being read: choices begin with it
  std::optional<Question> question_;
};

// While it lives, one is a level deeper.
class Deeper {
 public:
  explicit Deeper(int& depth) : depth_(depth) { ++depth_; }
  ~Deeper() { --depth_; }
  Deeper(const Deeper&) = delete;
  Deeper& operator=(const Deeper&) = delete;
  // No phrase of one line says anything sensible from here on, long before the stack ends.
  bool tooDeep() const { return depth_ > 30; }

 private:
  int& depth_;
};

// While it lives, choices begin with these words as well.
class Beginning {
 public:
  Beginning(std::string& said, const std::string& words) : said_(said), before_(said) {
    said_ += words;
  }
  ~Beginning() { said_ = before_; }
  Beginning(const Beginning&) = delete;
  Beginning& operator=(const Beginning&) = delete;

 private:
  std::string& said_;
  std::string before_;
};

// "0.5", "50": a number as phrases write it.
std::string numberText(double value);
// "0.5 s": rounded to what a clock of microseconds can tell.
std::string secondsText(double seconds);

}  // namespace ignavo::phrases
