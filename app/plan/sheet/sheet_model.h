// The fields of a sheet as a table: what stands on the paper, what it says, what it stands for on the car, what comes
// of it.
#pragma once

#include <QAbstractTableModel>

#include "app/plan/sheet/sheet_work.h"

namespace lowkite::app {

class SheetModel : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { field, says, place, comes, columns };
  explicit SheetModel(SheetWork& work, QObject* parent = nullptr);

  void setOnlyFilled(bool only);
  [[nodiscard]] int fieldOf(int row) const { return row >= 0 && row < rowCount() ? rows_[at(row)] : -1; }
  [[nodiscard]] int rowOf(int field) const;

  /// What a field can stand for, as it is chosen: with its side, and for tick boxes with the position that a tick
  /// means.
  struct Choice {
    QString text;
    SheetMatch match;
  };
  [[nodiscard]] std::vector<Choice> choices(int field) const;

  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;

 private:
  void refresh();
  [[nodiscard]] QString placeText(const SheetMatch& match) const;
  [[nodiscard]] QString comesText(int field) const;

  SheetWork& work_;
  bool onlyFilled_ = true;
  std::vector<int> rows_;
};

}  // namespace lowkite::app
