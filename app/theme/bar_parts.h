#pragma once
#include <QBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QWidget>

namespace ignavo::app {

// What the lines are made of that stand across the window, or above the trace, and tell something.

// Gives such a line its name, its ground, and the row that its parts stand in.
inline QHBoxLayout* barRow(QWidget* bar, const char* name, const QMargins& margins, int spacing) {
  bar->setObjectName(QString::fromLatin1(name));
  bar->setAttribute(Qt::WA_StyledBackground);
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(margins);
  row->setSpacing(spacing);
  return row;
}

// Words that may hold what a user typed: they are no markup.
inline QLabel* barWords(QWidget* bar, const char* name) {
  auto* words = new QLabel(bar);
  words->setObjectName(QString::fromLatin1(name));
  words->setTextFormat(Qt::PlainText);
  return words;
}

// How far something is, 0 … 100, at the end of the row.
inline QProgressBar* barProgress(QWidget* bar, QBoxLayout* row, const char* name) {
  auto* progress = new QProgressBar(bar);
  progress->setObjectName(QString::fromLatin1(name));
  progress->setRange(0, 100);
  progress->setTextVisible(false);
  progress->setFixedWidth(160);
  row->addWidget(progress);
  return progress;
}

}  // namespace ignavo::app
