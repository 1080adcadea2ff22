/**
 * The connection to PostgreSQL, one per process, and the tables as Sequelize sees them. The schema itself comes from
 * migrations only.
 */
import { DataTypes, Sequelize, type Model, type ModelStatic } from 'sequelize';
import { databaseAddress } from './address';
import type { LibraryContent } from '../document/library';
import { askForPicture, type PictureJob } from './queue';
import { Refusal } from './refusal';
import type { Patch, ProjectDocument } from '../document/types';

export interface ProjectRow {
  id: string;
  name: string;
  purpose: string;
  units: string;
  revision: number;
  binnedAt: Date | null;
  changedAt: Date;
  thumbnail: Buffer | null;
  thumbnailRevision: number | null;
}
export interface ChangeRow {
  project: string;
  revision: number;
  change: string;
  window: string;
  label: string;
  patches: Patch[];
  at: Date;
}
export interface SnapshotRow {
  project: string;
  revision: number;
  document: ProjectDocument;
}
export interface BlobRow {
  sha: string;
  size: number;
  type: string;
  arrivedAt: Date;
}
export interface BlobPartRow {
  sha: string;
  part: number;
  bytes: Buffer;
}
export interface LibraryRow {
  id: string;
  kind: string;
  name: string;
  tags: string[];
  content: LibraryContent;
  thumbnail: Buffer;
  changedAt: Date;
}
export interface PictureRow {
  key: string;
  png: Buffer | null;
  failed: string | null;
  at: Date;
}
export interface LibraryUseRow {
  item: string;
  project: string;
}
export interface BlobUseRow {
  project: string;
  sha: string;
}

type Table<T extends object> = ModelStatic<Model<T, Partial<T>> & T>;

export interface Database {
  sequelize: Sequelize;
  projects: Table<ProjectRow>;
  changes: Table<ChangeRow>;
  snapshots: Table<SnapshotRow>;
  blobs: Table<BlobRow>;
  blobParts: Table<BlobPartRow>;
  blobUses: Table<BlobUseRow>;
  library: Table<LibraryRow>;
  libraryUses: Table<LibraryUseRow>;
  pictures: Table<PictureRow>;
}

/**
 * `connections`: how many at the most. With `schema`, the name of a migration, it is of use only when that one has been
 * done.
 */
export function connect(url: string, connections = 6, schema?: string): Database {
  const { url: plain, ssl } = databaseAddress(url);
  const sequelize = new Sequelize(plain, {
    dialect: 'postgres',
    dialectOptions: ssl ? { ssl } : {},
    logging: false,
    pool: { max: connections, idle: 10000, acquire: 8000 },
    // The database may be restarted under us: a statement outside a transaction is tried again on a fresh connection.
    retry: {
      max: 3,
      match: [/ConnectionError/, /ConnectionRefused/, /terminated/i, /ECONNRESET/, /57P0/],
      backoffBase: 200,
    },
  });
  if (schema) awaitSchema(sequelize, schema);
  // A pooled connection that dies while idle must not take the process with it.
  const options = { timestamps: false, freezeTableName: true, underscored: true };
  const key = { primaryKey: true };
  return {
    sequelize,
    projects: sequelize.define(
      'projects',
      {
        id: { type: DataTypes.UUID, ...key },
        name: DataTypes.TEXT,
        purpose: DataTypes.TEXT,
        units: DataTypes.TEXT,
        revision: DataTypes.INTEGER,
        binnedAt: DataTypes.DATE,
        changedAt: DataTypes.DATE,
        thumbnail: DataTypes.BLOB,
        thumbnailRevision: DataTypes.INTEGER,
      },
      options,
    ) as Table<ProjectRow>,
    changes: sequelize.define(
      'changes',
      {
        project: { type: DataTypes.UUID, ...key },
        revision: { type: DataTypes.INTEGER, ...key },
        change: DataTypes.TEXT,
        window: DataTypes.TEXT,
        label: DataTypes.TEXT,
        patches: DataTypes.JSONB,
        at: DataTypes.DATE,
      },
      options,
    ) as Table<ChangeRow>,
    snapshots: sequelize.define(
      'snapshots',
      {
        project: { type: DataTypes.UUID, ...key },
        revision: { type: DataTypes.INTEGER, ...key },
        document: DataTypes.JSONB,
      },
      options,
    ) as Table<SnapshotRow>,
    blobs: sequelize.define(
      'blobs',
      {
        sha: { type: DataTypes.TEXT, ...key },
        size: DataTypes.BIGINT,
        type: DataTypes.TEXT,
        arrivedAt: { type: DataTypes.DATE, defaultValue: DataTypes.NOW },
      },
      options,
    ) as unknown as Table<BlobRow>,
    blobParts: sequelize.define(
      'blob_parts',
      { sha: { type: DataTypes.TEXT, ...key }, part: { type: DataTypes.INTEGER, ...key }, bytes: DataTypes.BLOB },
      options,
    ) as Table<BlobPartRow>,
    blobUses: sequelize.define(
      'blob_uses',
      { project: { type: DataTypes.UUID, ...key }, sha: { type: DataTypes.TEXT, ...key } },
      options,
    ) as Table<BlobUseRow>,
    library: sequelize.define(
      'library',
      {
        id: { type: DataTypes.UUID, ...key },
        kind: DataTypes.TEXT,
        name: DataTypes.TEXT,
        tags: DataTypes.JSONB,
        content: DataTypes.JSONB,
        thumbnail: DataTypes.BLOB,
        changedAt: DataTypes.DATE,
      },
      options,
    ) as unknown as Table<LibraryRow>,
    libraryUses: sequelize.define(
      'library_uses',
      { item: { type: DataTypes.UUID, ...key }, project: { type: DataTypes.UUID, ...key } },
      options,
    ) as Table<LibraryUseRow>,
    pictures: sequelize.define(
      'pictures',
      { key: { type: DataTypes.TEXT, ...key }, png: DataTypes.BLOB, failed: DataTypes.TEXT, at: DataTypes.DATE },
      options,
    ) as Table<PictureRow>,
  };
}

const holder = globalThis as typeof globalThis & { glyptaDatabase?: Database };

const address = (): string => {
  const url = process.env.GLYPTA_DATABASE;
  if (!url) throw new Error('GLYPTA_DATABASE is not set; start with ./glypta start.');
  return url;
};

/** The process's database, by GLYPTA_DATABASE. */
export const database = (): Database => {
  const { GLYPTA_CONNECTIONS: connections, GLYPTA_SCHEMA: schema } = process.env;
  return (holder.glyptaDatabase ??= connect(address(), Number(connections) || undefined, schema));
};

interface Connection {
  query(sql: string, values: unknown[]): Promise<{ rows: unknown[] }>;
  end(): Promise<void>;
}

/**
 * The server begins while its tables are still brought up: until they are, no connection is handed out, and who asks is
 * told to wait.
 */
function awaitSchema(sequelize: Sequelize, name: string): void {
  let up = false;
  sequelize.addHook('afterConnect', async (made: unknown) => {
    if (up) return;
    const connection = made as Connection;
    try {
      up = (await connection.query('SELECT 1 FROM migrations WHERE name = $1', [name])).rows.length > 0;
    } catch {
      /* the table itself is not there yet */
    }
    if (up) return;
    await connection.end();
    throw new Refusal(503, 'Glypta is just starting. Your work waits here and is saved in a moment.');
  });
}

/** Hands a picture that is wanted to whichever worker is free. */
export const askForPictures = (job: PictureJob): Promise<void> => askForPicture(address(), job);
