// Entries of a car file as a table: what it is, its value as it is typed, its unit.
#pragma once

#include <functional>

#include <QAbstractTableModel>

#include "app/car/car_editor.h"

namespace lowkite::app {

class FieldModel : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { name, value, unit, columns };
  using Fields = std::function<std::vector<CarField>()>;

  /// `fields` is asked again whenever the car changes.
  FieldModel(CarEditor& editor, Fields fields, QObject* parent = nullptr);
  void refresh();

  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;

  [[nodiscard]] const std::vector<CarField>& fields() const { return fields_; }

 private:
  CarEditor& editor_;
  Fields ask_;
  std::vector<CarField> fields_;
};

}  // namespace lowkite::app
