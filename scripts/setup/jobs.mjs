// The queue in the database for what is done without being asked for. Its tables are the tables' owner's, as all are:
// the process that answers requests could not make them.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, SetupError } from './paths.mjs';

/** SQLSTATE of what a role may not do (PostgreSQL documentation, Appendix A). */
const INSUFFICIENT_PRIVILEGE = '42501';

/** The queues, and what holds for each (pg-boss, “createQueue”). */
const QUEUES = JSON.parse(readFileSync(join(ROOT, 'database/queues.json'), 'utf8'));

/**
 * Makes the queues, or brings them up to date. One program does so at a time: pg-boss 10 does not see to that itself.
 *
 * @param {import('pg').Client} client of the role that owns the tables, outside any transaction
 * @throws SetupError where that role may not make a schema
 */
export async function prepareJobs(client) {
  const { default: PgBoss } = await import('pg-boss');
  const executeSql = async (text, values) => {
    try {
      return await client.query(text, values);
    } catch (error) {
      // Several statements are one transaction here, which would stay open.
      await client.query('rollback');
      if (error.code !== INSUFFICIENT_PRIVILEGE) throw error;
      throw new SetupError(
        `The queue of backups and tidying has a schema of its own, which this role may not make (${error.message}). Grant it “create” on the database, or make it the database’s owner.`
      );
    }
  };
  const boss = new PgBoss({ db: { executeSql }, supervise: false, schedule: false });
  await boss.start();
  for (const [name, settings] of Object.entries(QUEUES)) {
    await boss.createQueue(name, { name, ...settings });
    await boss.updateQueue(name, { name, ...settings });
  }
  await boss.stop({ graceful: false });
  await client.query(`
    do $$
    begin
      if exists (select from pg_roles where rolname = 'lodestone_app') then
        grant usage on schema pgboss to lodestone_app;
        grant select, insert, update, delete on all tables in schema pgboss to lodestone_app;
      end if;
    end
    $$`);
}
