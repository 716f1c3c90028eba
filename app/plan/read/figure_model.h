// The figures of an axle as a table: baseline, as changed, and after the re-set; grouped by what a racer looks for.
#pragma once

#include <array>
#include <vector>

#include <QAbstractTableModel>

#include "app/compute/plan_model.h"
#include "app/settings/usual_ranges.h"

namespace lowkite::app {

class FigureModel : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { label, baseline, changed, reset, columnCount_ };
  enum Role {
    differenceRole =
        Qt::UserRole,  ///< text of the difference to the baseline, "" when it stayed; two lines as the value
    groupRole,         ///< true on a group's heading
    unitRole,          ///< the figure's unit
    usualRole          ///< "usual 0.5 to 1.5 out", or ""
  };

  FigureModel(PlanModel& plan, const UsualRanges& usual, QObject* parent = nullptr);

  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role = Qt::DisplayRole) const override;
  [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation,
                                    int role = Qt::DisplayRole) const override;
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
  /// Angles that links set, the ride height and the full lock may be typed where they stand as changed: "-2",
  /// "0.5 out", "5.5", "27.5", "all".
  bool setData(const QModelIndex& index, const QVariant& typed, int role = Qt::EditRole) override;

  /// The whole table as tab-separated text.
  [[nodiscard]] QString asText() const;
  /// Ids of the figures on top, in their order; kept in the settings.
  [[nodiscard]] QStringList pinned() const { return pinned_; }
  void setPinned(const QStringList& figures);
  /// Figures that may be pinned: all of the axle's.
  [[nodiscard]] std::vector<const FigureSpec*> figures() const;
  [[nodiscard]] bool movedInRow(int row) const;
  /// Row of a figure, or -1.
  [[nodiscard]] int rowOf(std::string_view figure) const;

 Q_SIGNALS:
  void told(const QString& news);  ///< what was typed cannot be

 private:
  struct Row {
    const FigureSpec* figure = nullptr;  ///< nullptr: a group's heading
    FigureGroup group{};
    bool pinned = false;
    std::array<QString, columnCount_> text, difference;  ///< as shown now
  };
  /// Puts the texts of a row up to date; true when any of them changed.
  bool retell(Row& row) const;
  void rebuild();
  void refresh();
  [[nodiscard]] const Variant* variant(int column) const;
  /// Calls `of` for the sides that are on show and joins what differs: "L ...\nR ..." while both are.
  template <class Of>
  [[nodiscard]] QString overSides(const Row& row, const Of& of) const;
  [[nodiscard]] QString text(const Row& row, int column) const;
  [[nodiscard]] QString difference(const Row& row, int column) const;

  PlanModel& plan_;
  const UsualRanges& usual_;
  std::vector<Row> rows_;
  QStringList pinned_;
  End builtEnd_ = End::front;
  Sides toldSides_ = Sides::both;
  std::shared_ptr<const Car> builtFor_;
};

}  // namespace lowkite::app
