#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QSlider>
#include <QToolButton>
#include <cmath>

#include "inspector/inspector.h"
#include "project/edits.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "theme/wheel.h"
#include "theme/wrapping.h"

// The fields for a part's properties.
namespace ignavo::app {

namespace {

// The bands of a resistor, as a picture beside their names.
class Bands : public QWidget {
 public:
  Bands(std::vector<std::string> names, QWidget* parent)
      : QWidget(parent), names_(std::move(names)) {
    setFixedSize(62, 20);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(t.resistorEdge, 1));
    p.setBrush(t.resistorBody);
    p.drawRoundedRect(QRectF(1, 2, 60, 16), 6, 6);
    for (std::size_t i = 0; i < names_.size(); ++i)
      p.fillRect(QRectF(10 + 11.0 * static_cast<double>(i) + (i == 3 ? 6 : 0), 2.5, 6, 15),
                 t.band(str(names_[i])));
  }

 private:
  std::vector<std::string> names_;
};

}  // namespace

// A value from the E24 or E6 series, or any that is typed.
void Inspector::addSeries(const Part& part, const PropKind& prop,
                          const std::function<void(double)>& change) {
  auto* box = new QComboBox(page_);
  box->setObjectName(QStringLiteral("prop-") + str(prop.key));
  box->setAccessibleName(str(prop.label));
  new WheelPasses(box);
  box->setEditable(true);
  box->setInsertPolicy(QComboBox::NoInsert);
  box->setMaxVisibleItems(14);
  const double now = part.number(prop.key, prop.defaultValue);
  int at = -1;
  const auto& series = prop.e24 ? e24Decade() : e6Decade();
  for (double decade = prop.e24 ? 1 : 1e-12; decade <= prop.max; decade *= 10)
    for (const double e : series) {
      const double value = prop.e24 ? std::round(e * decade * 10) / 10 : e * decade;
      if (value < prop.min * (1 - 1e-9) || value > prop.max * (1 + 1e-9)) continue;
      if (at < 0 && std::abs(value - now) < 1e-6 * now) at = box->count();
      box->addItem(str(quantityText(value, prop.unit)), value);
    }
  if (at < 0) {
    box->insertItem(0, str(quantityText(now, prop.unit)), now);
    at = 0;
  }
  box->setCurrentIndex(at);
  connect(box, &QComboBox::activated, this, [this, box, change](int i) {
    setFocus();
    change(box->itemData(i).toDouble());
  });
  connect(box->lineEdit(), &QLineEdit::editingFinished, this, [this, box, change, prop, now] {
    const auto typed = parseQuantity(box->currentText().trimmed().toStdString(), prop.unit);
    // What is shown is rounded: only what was typed counts.
    const bool fits = typed && *typed >= prop.min && *typed <= prop.max &&
                      box->currentText() != str(quantityText(now, prop.unit));
    if (fits && std::abs(*typed - now) > 1e-9 * now) {
      setFocus();  // so that the page is made anew, with its bands
      change(*typed);
    } else {
      box->setEditText(str(quantityText(now, prop.unit)));
    }
  });
  row(str(prop.label), box);
  if (!prop.banded) return;
  auto* both = new QWidget(page_);
  auto* h = new QHBoxLayout(both);
  h->setContentsMargins(0, 0, 0, 0);
  h->setSpacing(10);
  QStringList names;
  for (const std::string& b : bandsOf(now)) names << str(b);
  h->addWidget(new Bands(bandsOf(now), both));
  h->addWidget(inspectorLabel(names.join(QStringLiteral(", ")), both, 12.5), 1);
  row(tr("Bands"), both);
}

void Inspector::addProps(const Part& part, const PartKind& kind) {
  const std::string id = part.id;
  const auto change = [this, id](const std::string& key, const QString& title, PropValue value,
                                 bool merge) {
    const Part* now = doc_.project().part(id);
    if (!now) return;
    doc_.edit(tr("change %1: %2").arg(str(now->name), title),
              edits::changePart(doc_.project(), id,
                                [&](Part& q) {
                                  // A name that was made from the property goes with it.
                                  const PartKind* k = catalogue().partKind(q.type);
                                  const std::string before = k->nameOf(q);
                                  q.setProp(key, value);
                                  if (q.name == before && k->nameOf(q) != before)
                                    q.name = freeName(doc_.project(), k->nameOf(q));
                                }),
              merge ? QStringLiteral("prop ") + str(id + key) : QString());
  };
  for (const PropKind& prop : kind.props) {
    const QString title = str(prop.label);
    if (prop.type == PropKind::Type::choice && prop.key == "colour") {
      auto* swatches = new Wrapping(7, page_);
      for (const std::string& choice : prop.choices) {
        auto* b = new QToolButton(swatches);
        b->setObjectName(QStringLiteral("swatch-") + str(choice));
        b->setFixedSize(26, 26);
        b->setToolTip(str(choice));
        b->setAccessibleName(str(choice));
        const bool on = part.text(prop.key, prop.choices.front()) == choice;
        b->setStyleSheet(
            QStringLiteral("QToolButton { border-radius: 13px; background: %1; border: %2px solid "
                           "%3; } QToolButton:focus { border: 3px solid %4; }")
                .arg(theme().ledColour(str(choice)).name())
                .arg(on ? 3 : 1)
                .arg((on ? theme().ink : theme().line).name(), theme().ink2.name()));
        connect(b, &QToolButton::clicked, this, [this, change, key = prop.key, title, choice] {
          setFocus();
          change(key, title, choice, false);
        });
      }
      row(title, swatches);
    } else if (prop.type == PropKind::Type::choice) {
      auto* box = new QComboBox(page_);
      box->setObjectName(QStringLiteral("prop-") + str(prop.key));
      box->setAccessibleName(title);
      new WheelPasses(box);
      for (const std::string& choice : prop.choices) box->addItem(str(choice));
      box->setCurrentText(str(part.text(prop.key, prop.choices.front())));
      connect(box, &QComboBox::textActivated, this,
              [change, key = prop.key, title](const QString& v) {
                change(key, title, v.toStdString(), false);
              });
      row(title, box);
    } else if (prop.type == PropKind::Type::truth) {
      auto* box = new QCheckBox(page_);
      box->setObjectName(QStringLiteral("prop-") + str(prop.key));
      box->setAccessibleName(title);
      const PropValue* held = part.prop(prop.key);
      box->setChecked(held && std::holds_alternative<bool>(*held) && std::get<bool>(*held));
      connect(box, &QCheckBox::clicked, this, [this, change, key = prop.key, title](bool on) {
        setFocus();
        change(key, title, on, false);
      });
      row(title, box);
    } else if (prop.e24 || prop.e6) {
      addSeries(part, prop,
                [change, key = prop.key, title](double v) { change(key, title, v, true); });
    } else if (prop.key == kind.knob) {
      // Turned or slid by hand: a slider with its value.
      auto* both = new QWidget(page_);
      auto* h = new QHBoxLayout(both);
      h->setContentsMargins(0, 0, 0, 0);
      auto* slider = new QSlider(Qt::Horizontal, both);
      slider->setObjectName(QStringLiteral("prop-") + str(prop.key));
      slider->setAccessibleName(title);
      new WheelPasses(slider);
      slider->setRange(static_cast<int>(prop.min), static_cast<int>(prop.max));
      slider->setPageStep(10);
      slider->setValue(static_cast<int>(part.number(prop.key, prop.defaultValue)));
      auto* value = inspectorLabel(QString(), both, 13);
      value->setFixedWidth(52);
      value->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
      const QString unit = str(prop.unit);
      const auto show = [value, unit](int v) {
        value->setText(QStringLiteral("%1 %2").arg(v).arg(unit));
      };
      show(slider->value());
      connect(slider, &QSlider::valueChanged, this, [change, show, key = prop.key, title](int v) {
        show(v);
        change(key, title, static_cast<double>(v), true);
      });
      h->addWidget(slider, 1);
      h->addWidget(value);
      row(title, both);
    } else if (prop.type == PropKind::Type::number) {
      auto* spin = new QDoubleSpinBox(page_);
      spin->setObjectName(QStringLiteral("prop-") + str(prop.key));
      spin->setAccessibleName(title);
      new WheelPasses(spin);
      spin->setLocale(QLocale::c());
      spin->setDecimals(2);
      spin->setRange(prop.min, prop.max);
      spin->setSingleStep(prop.defaultValue);
      spin->setSuffix(QStringLiteral(" ") + str(prop.unit));
      spin->setValue(part.number(prop.key, prop.defaultValue));
      connect(spin, &QDoubleSpinBox::valueChanged, this,
              [change, key = prop.key, title](double v) { change(key, title, v, true); });
      row(title, spin);
    }
  }
}

}  // namespace ignavo::app
