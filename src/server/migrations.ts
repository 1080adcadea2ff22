/** The schema, step by step. A migration that has landed is never edited; a new one follows it. */
import { SequelizeStorage, Umzug } from 'umzug';
import { DataTypes, literal, type QueryInterface, type Sequelize } from 'sequelize';
import { SCHEMA } from './schema';

const key = { primaryKey: true, allowNull: false };
const need = { allowNull: false };

const migrations = [
  {
    name: '001-projects-changes-blobs',
    async up({ context: q }: { context: QueryInterface }): Promise<void> {
      const project = {
        type: DataTypes.UUID,
        ...key,
        references: { model: 'projects', key: 'id' },
        onDelete: 'CASCADE',
      };
      await q.createTable('projects', {
        id: { type: DataTypes.UUID, ...key },
        name: { type: DataTypes.TEXT, ...need },
        purpose: { type: DataTypes.TEXT, ...need },
        units: { type: DataTypes.TEXT, ...need },
        revision: { type: DataTypes.INTEGER, ...need },
        binned_at: DataTypes.DATE,
        changed_at: { type: DataTypes.DATE, ...need },
        thumbnail: DataTypes.BLOB,
        thumbnail_revision: DataTypes.INTEGER,
      });
      await q.createTable('changes', {
        project,
        revision: { type: DataTypes.INTEGER, ...key },
        change: { type: DataTypes.TEXT, ...need },
        window: { type: DataTypes.TEXT, ...need },
        label: { type: DataTypes.TEXT, ...need },
        patches: { type: DataTypes.JSONB, ...need },
        at: { type: DataTypes.DATE, ...need },
      });
      await q.addConstraint('changes', { type: 'unique', fields: ['project', 'change'], name: 'changes_once' });
      await q.createTable('snapshots', {
        project,
        revision: { type: DataTypes.INTEGER, ...key },
        document: { type: DataTypes.JSONB, ...need },
      });
      await q.createTable('blobs', {
        sha: { type: DataTypes.TEXT, ...key },
        size: { type: DataTypes.BIGINT, ...need },
        type: { type: DataTypes.TEXT, ...need },
      });
      const sha = { type: DataTypes.TEXT, ...key, references: { model: 'blobs', key: 'sha' } };
      await q.createTable('blob_parts', {
        sha,
        part: { type: DataTypes.INTEGER, ...key },
        bytes: { type: DataTypes.BLOB, ...need },
      });
      await q.createTable('blob_uses', { project, sha });
    },
    async down({ context: q }: { context: QueryInterface }): Promise<void> {
      for (const t of ['blob_uses', 'blob_parts', 'blobs', 'snapshots', 'changes', 'projects']) await q.dropTable(t);
    },
  },
  {
    name: '002-library',
    async up({ context: q }: { context: QueryInterface }): Promise<void> {
      await q.createTable('library', {
        id: { type: DataTypes.UUID, ...key },
        kind: { type: DataTypes.TEXT, ...need },
        name: { type: DataTypes.TEXT, ...need },
        tags: { type: DataTypes.JSONB, ...need },
        content: { type: DataTypes.JSONB, ...need },
        thumbnail: { type: DataTypes.BLOB, ...need },
        changed_at: { type: DataTypes.DATE, ...need },
      });
      // An item that a project uses cannot be removed: the database itself says no.
      await q.createTable('library_uses', {
        item: { type: DataTypes.UUID, ...key, references: { model: 'library', key: 'id' }, onDelete: 'RESTRICT' },
        project: { type: DataTypes.UUID, ...key, references: { model: 'projects', key: 'id' }, onDelete: 'CASCADE' },
      });
    },
    async down({ context: q }: { context: QueryInterface }): Promise<void> {
      for (const t of ['library_uses', 'library']) await q.dropTable(t);
    },
  },
  {
    name: '003-pictures',
    async up({ context: q }: { context: QueryInterface }): Promise<void> {
      await q.createTable('pictures', {
        key: { type: DataTypes.TEXT, ...key },
        png: DataTypes.BLOB,
        failed: DataTypes.TEXT,
        at: { type: DataTypes.DATE, ...need },
      });
    },
    async down({ context: q }: { context: QueryInterface }): Promise<void> {
      await q.dropTable('pictures');
    },
  },
  {
    name: SCHEMA,
    async up({ context: q }: { context: QueryInterface }): Promise<void> {
      // What was there before counts as having come in when this ran.
      const at = { type: DataTypes.DATE, ...need, defaultValue: literal('now()') };
      await q.addColumn('blobs', 'arrived_at', at);
    },
    async down({ context: q }: { context: QueryInterface }): Promise<void> {
      await q.removeColumn('blobs', 'arrived_at');
    },
  },
];

/** Any number will do, as long as it is ours alone in this database. */
const MIGRATING = 4810_2026;

/** Brings the schema up; of several servers that start on one database, one does it while the others wait. */
export const migrate = (sequelize: Sequelize): Promise<string[]> =>
  sequelize.transaction(async (transaction) => {
    await sequelize.query('SELECT pg_advisory_xact_lock($1::bigint)', { bind: [MIGRATING], transaction });
    return bringUp(sequelize);
  });

async function bringUp(sequelize: Sequelize): Promise<string[]> {
  const umzug = new Umzug({
    migrations,
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize, tableName: 'migrations' }),
    logger: undefined,
  });
  return (await umzug.up()).map((m) => m.name);
}
