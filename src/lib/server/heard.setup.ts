// Writes down what is asked of the database, where LODESTONE_SQL_LOG names a file: see CONTRIBUTING, “A new version”.
import { appendFileSync } from 'node:fs';
import pg from 'pg';

const { LODESTONE_SQL_LOG: file } = process.env;
if (file) {
  const asked = pg.Client.prototype.query;
  const heard = function (this: pg.Client, ...words: Parameters<typeof asked>): unknown {
    const [first] = words as unknown as [string | { text?: string }];
    appendFileSync(file, `${JSON.stringify(typeof first === 'string' ? first : first.text)}\n`);
    return Reflect.apply(asked, this, words);
  };
  pg.Client.prototype.query = heard as typeof asked;
}
