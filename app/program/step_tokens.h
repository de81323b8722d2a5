#pragma once
#include <QFontMetricsF>
#include <QHash>
#include <QString>
#include <functional>
#include <map>
#include <unordered_map>
#include <vector>

#include "program/program_layout.h"
#include "program/steps.h"

namespace ignavo::app {

// The tokens of steps as they were told last: most steps of a long program stay as they are from
// one edit to the next.
class TokenCache {
 public:
  struct Told {
    std::string kind;
    std::vector<std::pair<std::string, Expr>> fields;
    std::vector<Token> tokens;  // with their widths
  };
  // What hangs on pins: with other names all is told anew.
  void named(std::map<std::string, QString> names);
  std::unordered_map<std::string, Told> steps;  // by id

 private:
  std::map<std::string, QString> names_;
};

// What stands on cards and signs, piece by piece: words, and fields that can be changed. Boxes are
// left to whoever lays them out.
class TokenMaker {
 public:
  explicit TokenMaker(const PinNamer& namer, TokenCache* cache = nullptr);

  // With their widths.
  std::vector<Token> ofStep(const Step& step) const;
  // What a sign says; of a lane that keeps something only what stands before that.
  std::vector<Token> ofSign(const Trigger& trigger) const;
  // A value at that path of its step or sign.
  std::vector<Token> ofValue(const Expr& e, const std::string& path, SlotKind::Type type) const;
  // Likewise, without the operand at `through`: what stands on a thread, where that comes in from
  // the left.
  std::vector<Token> ofOperator(const Expr& e, const std::string& path, SlotKind::Type type,
                                const std::string& through) const;
  // A value in words, parts by their names: "flips on Call button is high".
  QString sentenceOf(const Expr& e) const;
  // How an operator is typed on a thread: "held for 0.5 s".
  static QString operatorText(const Expr& e, const std::string& through);
  double widthOf(const Token& token) const;
  double boldWidth(const QString& text) const;   // of a sign's words
  QString nameOf(const std::string& pin) const;  // what hangs on it, else the pin

 private:
  std::vector<Token> told(const Step& step) const;
  void pin(const std::string& pin, const std::string& path, std::vector<Token>& out) const;
  void slot(const Expr& held, const SlotKind& slot, std::vector<Token>& out) const;
  void worded(const Expr& e, const std::string& phrase, const std::string& path,
              SlotKind::Type type, std::vector<Token>& out) const;
  void named(const Expr& e, const std::string& key, const std::string& path,
             std::vector<Token>& out) const;
  void operand(const Expr& e, const std::string& path, SlotKind::Type type,
               std::vector<Token>& out) const;
  void expression(const Expr& e, const std::string& path, SlotKind::Type type,
                  std::vector<Token>& out) const;

  const PinNamer& namer_;
  TokenCache* cache_;
  const QFontMetricsF pinFont_, valueFont_, wordFont_, boldFont_;
  mutable std::string without_;            // the path of what is left out
  mutable QHash<QString, double> widths_;  // of words
};

}  // namespace ignavo::app
