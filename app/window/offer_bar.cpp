#include "window/offer_bar.h"

#include <QPushButton>

#include "theme/bar_parts.h"

namespace ignavo::app {

OfferBar::OfferBar(QWidget* parent) : QWidget(parent) {
  QHBoxLayout* row = barRow(this, "offer", {20, 6, 16, 6}, 8);
  words_ = new QLabel(this);
  words_->setObjectName(QStringLiteral("offerText"));
  words_->setWordWrap(true);
  words_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  row->addWidget(words_, 1);
  buttons_ = new QHBoxLayout;
  buttons_->setSpacing(8);
  row->addLayout(buttons_);
  hide();
}

void OfferBar::ask(const QString& sentence, const QList<QPair<QString, QString>>& answers) {
  words_->setText(sentence);
  setAccessibleName(sentence);
  while (QLayoutItem* item = buttons_->takeAt(0)) {
    item->widget()->deleteLater();
    delete item;
  }
  for (const auto& [name, words] : answers) {
    auto* b = new QPushButton(words, this);
    b->setObjectName(name);
    b->setProperty("primary", buttons_->count() == 0);
    connect(b, &QPushButton::clicked, this, [this, name = name] { Q_EMIT answered(name); });
    buttons_->addWidget(b);
  }
  show();
}

}  // namespace ignavo::app
