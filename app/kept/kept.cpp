#include "app/kept/kept.h"

#include <mutex>
#include <optional>
#include <utility>
#include <vector>

#include <QCoreApplication>
#include <QDateTime>
#include <QFileInfo>
#include <QHash>
#include <QPointer>
#include <QSettings>
#include <QThreadPool>

namespace lowkite::app {
namespace {

/// What is put under a key, or taken away; without a key: all of it is.
struct Change {
  std::optional<QString> key;
  QVariant value;  ///< invalid: taken away

  void applyTo(QHash<QString, QVariant>& all) const {
    if (!key)
      all.clear();
    else if (value.isValid())
      all.insert(*key, value);
    else
      all.remove(*key);
  }
  void applyTo(QSettings& file) const {
    if (!key)
      file.clear();
    else if (value.isValid())
      file.setValue(*key, value);
    else
      file.remove(*key);
  }
};

class Store {
 public:
  Store() {
    writer_.setMaxThreadCount(1);
    qAddPostRoutine([] { Kept::settle(); });
  }

  QVariant value(const QString& key) {
    const std::lock_guard guard(mutex_);
    lookAtFile();
    return all_.value(key);
  }

  void change(Change change) {
    {
      const std::lock_guard guard(mutex_);
      lookAtFile();
      change.applyTo(all_);
      waiting_.push_back(std::move(change));
      if (writing_) return;
      writing_ = true;
    }
    writer_.start([this] { write(); });
  }

  void tellFailures(QObject* owner, std::function<void(const QString&)> tell) {
    const std::lock_guard guard(mutex_);
    listeners_.push_back({owner, std::move(tell)});
  }

  void settle() {
    bool unwritten = false;
    {
      const std::lock_guard guard(mutex_);
      unwritten = !waiting_.empty() && !writing_;
      writing_ |= unwritten;
    }
    if (unwritten) writer_.start([this] { write(); });
    writer_.waitForDone();
  }

 private:
  struct Stamp {
    QString path;
    qint64 size = 0;
    QDateTime changed;
    bool operator==(const Stamp&) const = default;
  };
  static Stamp stampOf(const QString& path) {
    const QFileInfo file(path);
    return {path, file.size(), file.lastModified()};
  }

  struct Read {
    QHash<QString, QVariant> all;
    Stamp stamp;
  };
  /// The stamp is taken first: what is written while we read is another stamp's, and read at the next look.
  static Read read(QSettings& file) {
    Read read{{}, stampOf(file.fileName())};
    file.sync();
    for (const QString& key : file.allKeys()) read.all.insert(key, file.value(key));
    return read;
  }

  /// Reads the file where it is another than the one that was read or written last. While ours is being written, what
  /// is kept here is newer; and QSettings would have the reader wait for the disk.
  void lookAtFile() {
    if (writing_ || (seen_ && stampOf(seen_->path) == *seen_)) return;
    QSettings file;
    see(read(file));
  }

  void see(Read read) {
    all_ = std::move(read.all);
    seen_ = std::move(read.stamp);
    for (const Change& change : waiting_) change.applyTo(all_);
  }

  void write() {
    std::vector<Change> now;
    for (;;) {
      {
        const std::lock_guard guard(mutex_);
        if (waiting_.empty()) {
          writing_ = false;
          return;
        }
        now.swap(waiting_);
      }
      QSettings file;
      for (const Change& change : now) change.applyTo(file);
      file.sync();
      const bool written = file.status() == QSettings::NoError;
      Read is = read(file);
      const std::lock_guard guard(mutex_);
      if (!written && !std::exchange(failed_, true)) tell(file.fileName());
      failed_ = !written;
      if (!written) {
        // Tried again with the next change, or at the program's end.
        waiting_.insert(waiting_.begin(), now.begin(), now.end());
        writing_ = false;
        return;
      }
      now.clear();
      see(std::move(is));
    }
  }

  void tell(const QString& path) {
    if (!qApp) return;
    QMetaObject::invokeMethod(
        qApp,
        [listeners = listeners_, path] {
          for (const Listener& l : listeners)
            if (l.owner) l.tell(path);
        },
        Qt::QueuedConnection);
  }

  struct Listener {
    QPointer<QObject> owner;
    std::function<void(const QString&)> tell;
  };

  QThreadPool writer_;
  std::mutex mutex_;
  QHash<QString, QVariant> all_;
  std::vector<Change> waiting_;
  bool writing_ = false;  ///< a thread is at the file, or will be
  std::optional<Stamp> seen_;
  std::vector<Listener> listeners_;
  bool failed_ = false;  ///< at the last try
};

Store& store() {
  static Store store;
  return store;
}

}  // namespace

QVariant Kept::value(const QString& key, const QVariant& otherwise) const {
  const QVariant value = store().value(key);
  return value.isValid() ? value : otherwise;
}

bool Kept::contains(const QString& key) const {
  return store().value(key).isValid();
}

void Kept::setValue(const QString& key, const QVariant& value) {
  store().change({key, value});
}

void Kept::remove(const QString& key) {
  store().change({key, {}});
}

void Kept::clear() {
  store().change({});
}

void Kept::tellFailures(QObject* owner, std::function<void(const QString&)> tell) {
  store().tellFailures(owner, std::move(tell));
}

void Kept::settle() {
  store().settle();
}

}  // namespace lowkite::app
