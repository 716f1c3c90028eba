// The points of an axle or the steering as a table: name, x, y, z, and where each comes from.
#pragma once

#include <QAbstractTableModel>

#include "app/car/car_editor.h"

namespace lowkite::app {

class PointModel : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { name, x, y, z, origin, columns };

  explicit PointModel(CarEditor& editor, QObject* parent = nullptr);

  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;

  [[nodiscard]] const PointRef& ref(int row) const { return points_[at(row)]; }
  [[nodiscard]] int rowOf(const PointRef& ref) const;

 private:
  void refresh();

  CarEditor& editor_;
  std::vector<PointRef> points_;
};

}  // namespace lowkite::app
