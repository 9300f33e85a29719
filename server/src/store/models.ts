import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize';
import type { Role } from '@true-lantern/wire';
import type { Body, Evidence, FieldConflict, RowKind, Schools, ShelfItem } from '@true-lantern/core';

export class Firm extends Model<InferAttributes<Firm>, InferCreationAttributes<Firm>> {
  declare id: string;
  declare name: string;
  /** The schools that a new site of this firm begins with. */
  declare schools: CreationOptional<Schools>;
}

export class User extends Model<InferAttributes<User>, InferCreationAttributes<User>> {
  declare id: string;
  declare firmId: string;
  declare name: string;
  declare email: string;
  declare passwordHash: string;
  declare role: Role;
}

export class Site extends Model<InferAttributes<Site>, InferCreationAttributes<Site>> {
  declare id: string;
  declare firmId: string;
  declare name: string;
  declare archivedAt: CreationOptional<Date | null>;
  declare createdAt: CreationOptional<Date>;
  declare updatedAt: CreationOptional<Date>;
}

export class Part extends Model<InferAttributes<Part>, InferCreationAttributes<Part>> {
  declare id: string;
  declare firmId: string;
  declare siteId: string;
  declare kind: RowKind;
  declare body: Body;
  declare evidence: Record<string, Evidence>;
  declare position: number;
  declare revision: number;
  declare updatedBy: string | null;
  declare deletedAt: CreationOptional<Date | null>;
}

/** The change log: what makes sending twice harmless, merging possible, and who did what when a matter of record. */
export class ChangeRow extends Model<InferAttributes<ChangeRow>, InferCreationAttributes<ChangeRow>> {
  declare changeId: string;
  declare firmId: string;
  declare siteId: string;
  declare partId: string;
  declare baseRevision: number;
  declare revision: number;
  /** The device that made it: its own earlier changes are no conflict to it. */
  declare device: string | null;
  /** Fields that were set. */
  declare fields: Record<string, unknown>;
  /** What those fields held before. */
  declare before: Record<string, unknown>;
  declare conflicts: FieldConflict[];
  declare madeAt: Date;
  declare userId: string | null;
  declare createdAt: CreationOptional<Date>;
}

/** A photo or a spoken note. Kept in the database until there are enough of them for a store of their own. */
export class AttachmentRow extends Model<InferAttributes<AttachmentRow>, InferCreationAttributes<AttachmentRow>> {
  declare id: string;
  declare firmId: string;
  declare siteId: string;
  declare type: string;
  declare body: Buffer;
  /** A thumbnail, for pictures. */
  declare small: Buffer | null;
  declare createdAt: CreationOptional<Date>;
}

/** A part of the firm's own catalogue. */
export class ShelfRow extends Model<InferAttributes<ShelfRow>, InferCreationAttributes<ShelfRow>> {
  declare id: string;
  declare firmId: string;
  declare item: ShelfItem;
  declare deletedAt: CreationOptional<Date | null>;
  declare updatedAt: CreationOptional<Date>;
}

export interface Models {
  Firm: typeof Firm;
  User: typeof User;
  Site: typeof Site;
  Part: typeof Part;
  Change: typeof ChangeRow;
  Attachment: typeof AttachmentRow;
  Shelf: typeof ShelfRow;
}

export function defineModels(sequelize: Sequelize): Models {
  // Sequelize writes into the descriptions it is given: each column needs one of its own.
  const uuid = () => ({ type: DataTypes.UUID, allowNull: false });
  const text = () => ({ type: DataTypes.TEXT, allowNull: false });
  const json = () => ({ type: DataTypes.JSONB, allowNull: false });
  const integer = () => ({ type: DataTypes.INTEGER, allowNull: false });
  const key = () => ({ ...uuid(), primaryKey: true });
  const plain = { sequelize, underscored: true, timestamps: false };
  Firm.init({ id: key(), name: text(), schools: { ...json(), defaultValue: {} } }, { ...plain, tableName: 'firms' });
  User.init(
    { id: key(), firmId: uuid(), name: text(), email: text(), passwordHash: text(), role: text() },
    { ...plain, tableName: 'users' },
  );
  Site.init(
    {
      id: key(),
      firmId: uuid(),
      name: text(),
      archivedAt: DataTypes.DATE,
      createdAt: DataTypes.DATE,
      updatedAt: DataTypes.DATE,
    },
    { ...plain, timestamps: true, tableName: 'sites' },
  );
  Part.init(
    {
      id: key(),
      firmId: uuid(),
      siteId: uuid(),
      kind: text(),
      body: json(),
      evidence: json(),
      position: integer(),
      revision: integer(),
      updatedBy: DataTypes.UUID,
      deletedAt: DataTypes.DATE,
    },
    { ...plain, tableName: 'parts' },
  );
  ChangeRow.init(
    {
      changeId: key(),
      firmId: uuid(),
      siteId: uuid(),
      partId: uuid(),
      baseRevision: integer(),
      revision: integer(),
      device: DataTypes.TEXT,
      fields: json(),
      before: json(),
      conflicts: json(),
      madeAt: { type: DataTypes.DATE, allowNull: false },
      userId: DataTypes.UUID,
      createdAt: DataTypes.DATE,
    },
    { ...plain, timestamps: true, updatedAt: false, tableName: 'changes' },
  );
  AttachmentRow.init(
    {
      id: key(),
      firmId: uuid(),
      siteId: uuid(),
      type: text(),
      body: { type: DataTypes.BLOB, allowNull: false },
      small: DataTypes.BLOB,
      createdAt: DataTypes.DATE,
    },
    { ...plain, timestamps: true, updatedAt: false, tableName: 'attachments' },
  );
  ShelfRow.init(
    { id: key(), firmId: uuid(), item: json(), deletedAt: DataTypes.DATE, updatedAt: DataTypes.DATE },
    { ...plain, timestamps: true, createdAt: false, tableName: 'shelf' },
  );
  return { Firm, User, Site, Part, Change: ChangeRow, Attachment: AttachmentRow, Shelf: ShelfRow };
}
