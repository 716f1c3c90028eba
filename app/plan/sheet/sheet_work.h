// A sheet under work: the file, what its fields stand for on the open car, and what comes of it. Dies with nothing:
// another car is asked for the same fields anew.
#pragma once

#include <memory>
#include <optional>

#include <QObject>

#include "app/compute/plan_model.h"
#include "app/document/sheet_file.h"
#include "core/sheets/take_sheet.hpp"

namespace lowkite::app {

class SheetWork : public QObject {
  Q_OBJECT
 public:
  explicit SheetWork(PlanModel& model, QObject* parent = nullptr);

  /// Reads a sheet beside the window. A sheet without fields gets a line for every place of the car, to be typed into.
  void open(const QString& path);
  [[nodiscard]] bool isOpen() const { return file_.has_value(); }
  [[nodiscard]] bool busy() const { return files_.busy(); }
  [[nodiscard]] const SheetFile& file() const { return *file_; }
  /// Nothing is filled in by a program: what is read is typed.
  [[nodiscard]] bool isPicture() const { return picture_; }
  [[nodiscard]] const std::vector<FormField>& fields() const { return file_->form.fields; }
  [[nodiscard]] const std::vector<SheetPlace>& places() const { return places_; }
  [[nodiscard]] const std::vector<SheetMatch>& matches() const { return matches_; }
  /// What comes of it; none where the base cannot stand.
  [[nodiscard]] const std::optional<TakenSheet>& taken() const { return taken_; }
  /// The matches are those of last time.
  [[nodiscard]] bool remembered() const { return remembered_; }
  [[nodiscard]] Document& document() { return model_.document(); }

  void setMatch(int field, const SheetMatch& match);
  /// Of a picture: what is read there, and where on it, so that the eye finds it again.
  void setSaid(int field, const QString& text);
  void setPlace(int field, int page, const QPointF& at);
  /// Whether what the sheet does not name stays as it is now; else it is as in the kit.
  void setRestStays(bool stays);
  [[nodiscard]] bool restStays() const { return restStays_; }
  /// Works out again, where the car or the setup has changed.
  void refresh();

  /// Puts it into the setup, as one edit. False where there is nothing to take.
  bool take();
  /// Fills the form with the setup at work and writes it.
  void fill(const QString& path);

 Q_SIGNALS:
  void opened();
  void changed();
  void failed(const lowkite::Fault& fault);
  void told(const QString& news);

 private:
  void takeFile(SheetFile file);
  void askCar();
  void remember();

  PlanModel& model_;
  SheetFiles files_;
  std::optional<SheetFile> file_;
  bool picture_ = false;
  bool remembered_ = false;
  bool restStays_ = false;
  std::vector<SheetPlace> places_;
  std::vector<SheetMatch> matches_;
  std::optional<TakenSheet> taken_;
  std::shared_ptr<const Car> asked_;  ///< whose places these are
};

}  // namespace lowkite::app
