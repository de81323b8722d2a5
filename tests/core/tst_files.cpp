#include <sys/resource.h>
#include <sys/stat.h>
#include <unistd.h>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>
#include <QtTest>
#include <csignal>

#include "format/files.h"
#include "project/project.h"

using namespace ignavo;
using Code = FileProblem::Code;

// Files are kept whole, and stay what they were besides.
class TestFiles : public QObject {
  Q_OBJECT
  std::unique_ptr<QTemporaryDir> folder_;

  std::string path(const char* name) const { return folder_->filePath(name).toStdString(); }
  std::string make(const char* name, const char* text, mode_t mode = 0644) const {
    const std::string p = path(name);
    QFile file(QString::fromStdString(p));
    if (file.open(QIODevice::WriteOnly)) file.write(text);
    file.close();
    ::chmod(p.c_str(), mode);
    return p;
  }
  static std::string held(const std::string& p) { return readTextFile(p, limits::fileBytes).text; }
  static struct stat about(const std::string& p) {
    struct stat s {};
    (void)::lstat(p.c_str(), &s);
    return s;
  }
  // What a save may leave beside the file: nothing.
  int files() const {
    return static_cast<int>(
        QDir(folder_->path())
            .entryList(QDir::AllEntries | QDir::Hidden | QDir::System | QDir::NoDotAndDotDot)
            .size());
  }

 private Q_SLOTS:
  void init() { folder_ = std::make_unique<QTemporaryDir>(); }

  void aNewFileIsMade() {
    QVERIFY(!replaceFile(path("new.ignavo"), "hello"));
    QCOMPARE(held(path("new.ignavo")), std::string("hello"));
    QCOMPARE(files(), 1);
    QVERIFY(replaceFile(path("nowhere/new.ignavo"), "hello")->code == Code::cannotWrite);
  }
  void modeIsKept() {
    for (const mode_t mode : {0600, 0640, 0664, 0755}) {
      const std::string p = make("a.ignavo", "old", mode);
      QVERIFY(!replaceFile(p, "new"));
      QCOMPARE(held(p), std::string("new"));
      QCOMPARE(about(p).st_mode & 07777, mode);
    }
    QCOMPARE(files(), 1);
  }
  void ownerIsKept() {
    if (::geteuid() != 0) QSKIP("only the administrator can give a file to somebody else");
    const std::string p = make("a.ignavo", "old");
    QCOMPARE(::chown(p.c_str(), 12345, 23456), 0);
    QVERIFY(!replaceFile(p, "new"));
    QCOMPARE(held(p), std::string("new"));
    QCOMPARE(about(p).st_uid, uid_t(12345));
    QCOMPARE(about(p).st_gid, gid_t(23456));
    QCOMPARE(files(), 1);
  }
  void linksAreFollowedAndStay() {
    const std::string file = make("real.ignavo", "old"), link = path("link"), far = path("far");
    QCOMPARE(::symlink("real.ignavo", link.c_str()), 0);
    QCOMPARE(::symlink(link.c_str(), far.c_str()), 0);
    for (const std::string& given : {link, far}) {
      QVERIFY(!replaceFile(given, "new " + given));
      QCOMPARE(held(file), "new " + given);
      QVERIFY(S_ISLNK(about(given).st_mode) && S_ISREG(about(file).st_mode));
    }
    // One that leads nowhere yet leads to the new file then; one that leads to itself to nothing.
    const std::string open = path("open"), ring = path("ring");
    QCOMPARE(::symlink("later.ignavo", open.c_str()), 0);
    QVERIFY(!replaceFile(open, "new"));
    QCOMPARE(held(path("later.ignavo")), std::string("new"));
    QCOMPARE(::symlink("ring", ring.c_str()), 0);
    QVERIFY(replaceFile(ring, "new").has_value());
    QVERIFY(S_ISLNK(about(ring).st_mode));
    QCOMPARE(files(), 6);
  }
  void furtherNamesSeeTheSame() {
    const std::string one = make("one.ignavo", "old"), other = path("other.ignavo");
    QCOMPARE(::link(one.c_str(), other.c_str()), 0);
    const auto inode = about(one).st_ino;
    QVERIFY(!replaceFile(one, "new and longer"));
    QVERIFY(!replaceFile(other, "new"));
    QCOMPARE(held(one), std::string("new"));
    QCOMPARE(held(other), std::string("new"));
    QVERIFY(about(one).st_ino == inode && about(other).st_ino == inode);
    QCOMPARE(files(), 2);
  }
  // What may only be read is refused, also for who may write everything.
  void readOnlyFilesAreRefused() {
    const std::string p = make("a.ignavo", "old", 0444);
    QVERIFY(replaceFile(p, "new")->code == Code::readOnly);
    QCOMPARE(held(p), std::string("old"));
    QCOMPARE(about(p).st_mode & 07777, mode_t(0444));
    QCOMPARE(files(), 1);
  }
  void whatIsNoFileIsRefused() {
    const std::string pipe = path("pipe");
    QCOMPARE(::mkfifo(pipe.c_str(), 0666), 0);
    QCOMPARE(::mkdir(path("folder").c_str(), 0777), 0);
    for (const std::string& p : {std::string("/dev/null"), std::string("/dev/full"),
                                 std::string("/dev/zero"), pipe, path("folder")}) {
      const auto before = about(p).st_mode;
      const auto why = replaceFile(p, "new");
      QVERIFY2(why && why->code == Code::notAFile, p.c_str());
      QCOMPARE(about(p).st_mode, before);
    }
    // Neither through a link.
    QCOMPARE(::symlink("/dev/null", path("link").c_str()), 0);
    QVERIFY(replaceFile(path("link"), "new")->code == Code::notAFile);
    QVERIFY(S_ISCHR(about("/dev/null").st_mode));
    QCOMPARE(files(), 3);
  }
  void whatSomebodyElseChangedIsNoticed() {
    const std::string p = make("a.ignavo", "old");
    const FileStamp seen = stampOf("old");
    QVERIFY(!replaceFile(p, "mine", seen));
    QVERIFY(replaceFile(p, "mine again", seen)->code == Code::changedBehind);
    QCOMPARE(held(p), std::string("mine"));
    QVERIFY(!replaceFile(p, "mine again", stampOf("mine")));
    // Gone meanwhile: there is nothing to lose.
    ::unlink(p.c_str());
    QVERIFY(!replaceFile(p, "back", stampOf("mine again")));
    QCOMPARE(held(p), std::string("back"));
    QCOMPARE(files(), 1);
  }
  // A disk without room: the old file stays whole, and nothing is left beside it.
  void aFullDiskLosesNothing() {
    const std::string p = make("a.ignavo", "old");
    struct rlimit was {};
    QCOMPARE(::getrlimit(RLIMIT_FSIZE, &was), 0);
    const auto handler = ::signal(SIGXFSZ, SIG_IGN);
    struct rlimit few = was;
    few.rlim_cur = 1000;
    QCOMPARE(::setrlimit(RLIMIT_FSIZE, &few), 0);
    const auto why = replaceFile(p, std::string(5000, 'x'));
    const auto fresh = replaceFile(path("b.ignavo"), std::string(5000, 'x'));
    ::setrlimit(RLIMIT_FSIZE, &was);
    ::signal(SIGXFSZ, handler);
    QVERIFY(why && why->code == Code::cannotWrite);
    QVERIFY(fresh && fresh->code == Code::cannotWrite);
    QVERIFY(!inWords(sentence(*why)).empty());
    QCOMPARE(held(p), std::string("old"));
    QCOMPARE(files(), 1);
  }
  // The size of a file is looked at before it is read, and an input without an end is left.
  void tooMuchIsNotRead() {
    const std::string p = make("huge.ignavo", "x");
    QCOMPARE(::truncate(p.c_str(), off_t(700) << 20), 0);  // holes: no room on the disk
    struct rusage before {
    }, after{};
    ::getrusage(RUSAGE_SELF, &before);
    for (const std::string& big : {p, std::string("/dev/zero")}) {
      const TextFile file = readTextFile(big, 1 << 20);
      QVERIFY(file.problem && file.problem->code == Code::tooLarge);
      QVERIFY(file.text.empty());
    }
    ::getrusage(RUSAGE_SELF, &after);
    QVERIFY(after.ru_maxrss - before.ru_maxrss < 50 << 10);  // KiB
    QVERIFY(readTextFile(folder_->path().toStdString(), 1000).problem->code == Code::cannotOpen);
    QVERIFY(readTextFile(path("none"), 1000).problem->code == Code::cannotOpen);
    QCOMPARE(::mkfifo(path("pipe").c_str(), 0666), 0);  // nobody writes into it
    QVERIFY(readTextFile(path("pipe"), 1000).text.empty());
    QCOMPARE(readTextFile(make("just.ignavo", "12345"), 5).text, std::string("12345"));
    QVERIFY(readTextFile(path("just.ignavo"), 4).problem.has_value());
  }
};

QTEST_GUILESS_MAIN(TestFiles)
#include "tst_files.moc"
