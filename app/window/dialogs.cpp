#include "window/dialogs.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMessageBox>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>

namespace ignavo::app {

namespace {
class Desktop final : public Dialogs {
 public:
  QString openFile(QWidget* parent, const QString& title, const QString& filter) override {
    return QFileDialog::getOpenFileName(parent, title, {}, filter);
  }
  QString saveFile(QWidget* parent, const QString& title, const QString& suggested,
                   const QString& filter) override {
    return QFileDialog::getSaveFileName(parent, title, suggested, filter);
  }
  Answer unsaved(QWidget* parent, const QString& title) override {
    QMessageBox box(QMessageBox::NoIcon, QObject::tr("Keep the changes?"),
                    QObject::tr("“%1” has changes that are not saved.").arg(title),
                    QMessageBox::NoButton, parent);
    QAbstractButton* save = box.addButton(QObject::tr("Save"), QMessageBox::AcceptRole);
    QAbstractButton* drop = box.addButton(QObject::tr("Do not save"), QMessageBox::DestructiveRole);
    box.addButton(QObject::tr("Stay here"), QMessageBox::RejectRole);
    box.exec();
    if (box.clickedButton() == save) return Answer::save;
    return box.clickedButton() == drop ? Answer::discard : Answer::cancel;
  }
  bool overwrite(QWidget* parent, const QString& file, bool changed) override {
    const QString name = QFileInfo(file).fileName();
    QMessageBox box(QMessageBox::NoIcon, QObject::tr("Write over the file?"),
                    changed ? QObject::tr("“%1” was changed by someone else since it was opened. "
                                          "Written over, their changes are gone.")
                                  .arg(name)
                            : QObject::tr("There is a file “%1” already. Written over, what it "
                                          "holds is gone.")
                                  .arg(name),
                    QMessageBox::NoButton, parent);
    QAbstractButton* over = box.addButton(QObject::tr("Write over"), QMessageBox::DestructiveRole);
    box.setDefaultButton(box.addButton(QObject::tr("Stay here"), QMessageBox::RejectRole));
    box.exec();
    return box.clickedButton() == over;
  }
  QString name(QWidget* parent, const QString& title, const QString& suggested) override {
    return QInputDialog::getText(parent, title, QObject::tr("Name"), QLineEdit::Normal, suggested);
  }
  bool choosePrinter(QWidget* parent, QPrinter& printer) override {
    return QPrintDialog(&printer, parent).exec() == QDialog::Accepted;
  }
};
}  // namespace

Dialogs& desktopDialogs() {
  static Desktop desktop;
  return desktop;
}

}  // namespace ignavo::app
