import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type ModelStatic,
  type Sequelize,
} from 'sequelize';
import type { FirmSheet, Headline, Role } from '@true-lantern/wire';
import type { Body, Evidence, FieldConflict, RowKind, Schools, ShelfItem } from '@true-lantern/core';

/** A firm: everything else belongs to one. */
export class Firm extends Model<InferAttributes<Firm>, InferCreationAttributes<Firm>> {
  declare id: string;
  declare name: string;
  /** The schools that a new site of this firm begins with. */
  declare schools: CreationOptional<Schools>;
  /** What its papers show. */
  declare sheet: CreationOptional<FirmSheet>;
}

/** A way in for one person, once: to join the firm, or (with `userId`) to choose another password. */
export class Invitation extends Model<InferAttributes<Invitation>, InferCreationAttributes<Invitation>> {
  declare id: string;
  declare firmId: string;
  /** Of the token in the link: whoever reads the database has no link. */
  declare tokenHash: string;
  declare role: Role;
  declare userId: string | null;
  declare madeBy: string | null;
  declare expiresAt: Date;
  declare usedAt: CreationOptional<Date | null>;
  declare createdAt: CreationOptional<Date>;
}

/** A second way in: the public half of a key that a person's device or security key holds. */
export class Passkey extends Model<InferAttributes<Passkey>, InferCreationAttributes<Passkey>> {
  /** As the authenticator names it, base64url. */
  declare id: string;
  declare firmId: string;
  declare userId: string;
  declare name: string;
  declare publicKey: Buffer;
  /** How often it has signed, where it counts: a smaller number than before is a copy. */
  declare counter: CreationOptional<number>;
  declare transports: string[];
  declare usedAt: CreationOptional<Date | null>;
  declare createdAt: CreationOptional<Date>;
}

/** Who signed in, exported, deleted, let in: kept a year. */
export class AuditRow extends Model<InferAttributes<AuditRow>, InferCreationAttributes<AuditRow>> {
  declare id: CreationOptional<string>;
  declare firmId: string;
  declare userId: string | null;
  declare what: string;
  declare about: string | null;
  declare at: CreationOptional<Date>;
}

/** A person of a firm, with what they may do there. */
export class User extends Model<InferAttributes<User>, InferCreationAttributes<User>> {
  declare id: string;
  declare firmId: string;
  declare name: string;
  declare email: string;
  declare passwordHash: string;
  declare role: Role;
  /** Raised where every session of this person must end: another password, "sign out everywhere". */
  /** As the authority wrote it; null: none, and no work on AC. */
  declare licence: CreationOptional<string | null>;
  declare epoch: CreationOptional<number>;
  declare removedAt: CreationOptional<Date | null>;
}

/** A site: its name, its revision, and what was last worked out of it. */
export class Site extends Model<InferAttributes<Site>, InferCreationAttributes<Site>> {
  declare id: string;
  declare firmId: string;
  declare name: string;
  declare archivedAt: CreationOptional<Date | null>;
  /** Raised by every push: tells whether a headline is of what stands. */
  declare revision: CreationOptional<number>;
  declare headline: CreationOptional<Headline | null>;
  declare createdAt: CreationOptional<Date>;
  declare updatedAt: CreationOptional<Date>;
}

/** A row of a site: a part, the site itself, a proposal, a visit, a reading, an attachment. */
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

/** Every table as Sequelize knows it. */
export interface Models {
  Firm: typeof Firm;
  User: typeof User;
  Site: typeof Site;
  Part: typeof Part;
  Change: typeof ChangeRow;
  Attachment: typeof AttachmentRow;
  Shelf: typeof ShelfRow;
  Invitation: typeof Invitation;
  Audit: typeof AuditRow;
  Passkey: typeof Passkey;
}

// Sequelize writes into the descriptions it is given: each column needs one of its own.
const uuid = () => ({ type: DataTypes.UUID, allowNull: false });
const text = () => ({ type: DataTypes.TEXT, allowNull: false });
const json = () => ({ type: DataTypes.JSONB, allowNull: false });
const integer = () => ({ type: DataTypes.INTEGER, allowNull: false });
const key = () => ({ ...uuid(), primaryKey: true });
const empty = () => ({ ...json(), defaultValue: {} });

/** What every table has: the connection, and no clock of its own unless it says so. */
type Plain = { sequelize: Sequelize; underscored: true; timestamps: false };

/** Describes the tables to Sequelize as the migrations leave them; no table is made here. */
export function defineModels(sequelize: Sequelize): Models {
  const plain: Plain = { sequelize, underscored: true, timestamps: false };
  return { ...peopleModels(plain), ...siteModels(plain) };
}

/** A firm, its people, and how they come in. */
function peopleModels(plain: Plain): Pick<Models, 'Firm' | 'User' | 'Invitation' | 'Audit' | 'Passkey'> {
  const ownFirm = fresh(Firm);
  const ownUser = fresh(User);
  const ownInvitation = fresh(Invitation);
  const ownAuditRow = fresh(AuditRow);
  const ownPasskey = fresh(Passkey);
  ownFirm.init({ id: key(), name: text(), schools: empty(), sheet: empty() }, { ...plain, tableName: 'firms' });
  ownUser.init(
    {
      id: key(),
      firmId: uuid(),
      name: text(),
      email: text(),
      passwordHash: text(),
      role: text(),
      licence: DataTypes.TEXT,
      epoch: { ...integer(), defaultValue: 0 },
      removedAt: DataTypes.DATE,
    },
    { ...plain, tableName: 'users' },
  );
  ownInvitation.init(
    {
      id: key(),
      firmId: uuid(),
      tokenHash: text(),
      role: text(),
      userId: DataTypes.UUID,
      madeBy: DataTypes.UUID,
      expiresAt: { type: DataTypes.DATE, allowNull: false },
      usedAt: DataTypes.DATE,
      createdAt: DataTypes.DATE,
    },
    { ...plain, timestamps: true, updatedAt: false, tableName: 'invitations' },
  );
  ownAuditRow.init(
    {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      firmId: uuid(),
      userId: DataTypes.UUID,
      what: text(),
      about: DataTypes.TEXT,
      at: { type: DataTypes.DATE, defaultValue: DataTypes.NOW },
    },
    { ...plain, tableName: 'audit' },
  );
  ownPasskey.init(
    {
      id: { ...text(), primaryKey: true },
      firmId: uuid(),
      userId: uuid(),
      name: text(),
      publicKey: { type: DataTypes.BLOB, allowNull: false },
      counter: { ...integer(), defaultValue: 0 },
      transports: json(),
      usedAt: DataTypes.DATE,
      createdAt: DataTypes.DATE,
    },
    { ...plain, timestamps: true, updatedAt: false, tableName: 'passkeys' },
  );
  return { Firm: ownFirm, User: ownUser, Invitation: ownInvitation, Audit: ownAuditRow, Passkey: ownPasskey };
}

/** Sites with everything that is in them, and the shelf. */
function siteModels(plain: Plain): Pick<Models, 'Site' | 'Part' | 'Change' | 'Attachment' | 'Shelf'> {
  const ownSite = fresh(Site);
  const ownPart = fresh(Part);
  const ownChangeRow = fresh(ChangeRow);
  const ownAttachmentRow = fresh(AttachmentRow);
  const ownShelfRow = fresh(ShelfRow);
  ownSite.init(
    {
      id: key(),
      firmId: uuid(),
      name: text(),
      archivedAt: DataTypes.DATE,
      revision: { ...integer(), defaultValue: 0 },
      headline: DataTypes.JSONB,
      createdAt: DataTypes.DATE,
      updatedAt: DataTypes.DATE,
    },
    { ...plain, timestamps: true, tableName: 'sites' },
  );
  ownPart.init(
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
  ownChangeRow.init(
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
  ownAttachmentRow.init(
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
  ownShelfRow.init(
    { id: key(), firmId: uuid(), item: json(), deletedAt: DataTypes.DATE, updatedAt: DataTypes.DATE },
    { ...plain, timestamps: true, createdAt: false, tableName: 'shelf' },
  );
  return { Site: ownSite, Part: ownPart, Change: ownChangeRow, Attachment: ownAttachmentRow, Shelf: ownShelfRow };
}

/** Each database has classes of its own: Sequelize ties a class to the connection with which it was set up last. */
const fresh = <M extends ModelStatic<Model>>(model: M): M =>
  Object.defineProperty(class extends (model as unknown as typeof Model) {}, 'name', {
    value: model.name,
  }) as unknown as M;
