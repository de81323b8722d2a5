#pragma once
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QRegularExpression>
#include <QStringList>

// As much of JSON Schema (draft 2020-12) as the project's own schema uses, written after the
// standard and knowing nothing of the reader.
namespace ignavo::test {

class Schema {
 public:
  explicit Schema(const QByteArray& text) : root_(QJsonDocument::fromJson(text).object()) {}

  // Where and why a document does not fit; empty when it does.
  QStringList faults(const QByteArray& document) const {
    QStringList out;
    judge(root_, QJsonDocument::fromJson(document).object(), QString(), out);
    return out;
  }
  QStringList faults(const QJsonObject& document) const {
    QStringList out;
    judge(root_, document, QString(), out);
    return out;
  }
  // Keywords that it does not know, so that none is passed over in silence.
  QStringList unknownKeywords() const {
    QStringList out;
    look(root_, out);
    return out;
  }

 private:
  static bool isOfType(const QJsonValue& v, const QString& type) {
    if (type == "object") return v.isObject();
    if (type == "array") return v.isArray();
    if (type == "string") return v.isString();
    if (type == "boolean") return v.isBool();
    if (type == "null") return v.isNull();
    if (type == "number") return v.isDouble();
    return type == "integer" && v.isDouble() && v.toDouble() == std::floor(v.toDouble());
  }
  QJsonObject referred(const QString& ref) const {
    QJsonValue at = root_;
    for (const QString& key : ref.mid(2).split('/')) at = at.toObject()[key];
    return at.toObject();
  }
  bool fits(const QJsonValue& schema, const QJsonValue& v) const {
    // Of many kinds most differ by their name: that is soon seen.
    const QJsonObject known = schema.toObject()["properties"].toObject();
    for (auto it = known.begin(); v.isObject() && it != known.end(); ++it)
      if (const QJsonObject s = it.value().toObject(); s.contains("const"))
        if (const QJsonValue is = v.toObject()[it.key()]; !is.isUndefined() && is != s["const"])
          return false;
    QStringList out;
    judge(schema, v, QString(), out);
    return out.isEmpty();
  }
  int fitting(const QJsonArray& schemas, const QJsonValue& v) const {
    int n = 0;
    for (const QJsonValue& s : schemas) n += fits(s, v);
    return n;
  }

  void judge(const QJsonValue& schema, const QJsonValue& v, const QString& path,
             QStringList& out) const {
    if (schema.isBool()) {
      if (!schema.toBool()) out << path + ": must not be there";
      return;
    }
    const QJsonObject s = schema.toObject();
    const auto fault = [&](const QString& why) { out << path + ": " + why; };
    if (s.contains("$ref")) judge(referred(s["$ref"].toString()), v, path, out);
    if (s.contains("type")) {
      const QJsonArray types =
          s["type"].isArray() ? s["type"].toArray() : QJsonArray{s["type"].toString()};
      if (std::none_of(types.begin(), types.end(),
                       [&](const QJsonValue& t) { return isOfType(v, t.toString()); }))
        return fault("another type is wanted");
    }
    if (s.contains("const") && v != s["const"]) fault("another value is wanted");
    if (s.contains("enum") && !s["enum"].toArray().contains(v)) fault("none of the choices");
    if (s.contains("anyOf") && fitting(s["anyOf"].toArray(), v) == 0) fault("fits none");
    if (s.contains("oneOf") && fitting(s["oneOf"].toArray(), v) != 1) fault("fits not just one");
    if (v.isDouble()) {
      if (s.contains("minimum") && v.toDouble() < s["minimum"].toDouble()) fault("too small");
      if (s.contains("maximum") && v.toDouble() > s["maximum"].toDouble()) fault("too large");
    }
    if (v.isString()) {
      if (v.toString().size() < s["minLength"].toInt(0)) fault("too short");
      if (s.contains("pattern") &&
          !v.toString().contains(QRegularExpression(s["pattern"].toString())))
        fault("of another form");
    }
    if (v.isArray()) judgeList(s, v.toArray(), path, out);
    if (v.isObject()) judgeObject(s, v.toObject(), path, out);
  }
  void judgeList(const QJsonObject& s, const QJsonArray& list, const QString& path,
                 QStringList& out) const {
    if (list.size() < s["minItems"].toInt(0)) out << path + ": too few";
    if (s.contains("maxItems") && list.size() > s["maxItems"].toInt()) out << path + ": too many";
    if (s.contains("items"))
      for (int i = 0; i < list.size(); ++i)
        judge(s["items"], list[i], QString("%1[%2]").arg(path).arg(i), out);
  }
  void judgeObject(const QJsonObject& s, const QJsonObject& object, const QString& path,
                   QStringList& out) const {
    for (const QJsonValue& key : s["required"].toArray())
      if (!object.contains(key.toString())) out << path + ": " + key.toString() + " is missing";
    const QJsonObject known = s["properties"].toObject();
    for (auto it = object.begin(); it != object.end(); ++it) {
      const QString inside = path.isEmpty() ? it.key() : path + "." + it.key();
      if (known.contains(it.key()))
        judge(known[it.key()], it.value(), inside, out);
      else if (s.contains("additionalProperties"))
        judge(s["additionalProperties"], it.value(), inside, out);
    }
  }

  void look(const QJsonObject& s, QStringList& out) const {
    static const QStringList judged = {
        "$ref",      "type",     "const",      "enum",
        "anyOf",     "oneOf",    "minimum",    "maximum",
        "minLength", "pattern",  "minItems",   "maxItems",
        "items",     "required", "properties", "additionalProperties",
        "$defs"};
    static const QStringList remarks = {"$schema", "title", "description", "default"};
    for (auto it = s.begin(); it != s.end(); ++it) {
      if (!judged.contains(it.key()) && !remarks.contains(it.key())) out << it.key();
      if (it.key() == "properties" || it.key() == "$defs")
        for (const QJsonValue& inner : it.value().toObject()) look(inner.toObject(), out);
      else if (it.key() == "items" || it.key() == "additionalProperties")
        look(it.value().toObject(), out);
      else if (it.key() == "anyOf" || it.key() == "oneOf")
        for (const QJsonValue& inner : it.value().toArray()) look(inner.toObject(), out);
    }
  }

  QJsonObject root_;
};

}  // namespace ignavo::test
