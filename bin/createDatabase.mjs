// Makes the database that DATABASE_URL names, unless it is there.
import pg from 'pg';

const url = new URL(process.env.DATABASE_URL);
const name = decodeURIComponent(url.pathname.slice(1));
url.pathname = '/postgres';
const client = new pg.Client({ connectionString: url.href });
await client.connect();
const { rowCount } = await client.query('SELECT 1 FROM pg_database WHERE datname = $1', [name]);
if (rowCount === 0) await client.query(`CREATE DATABASE ${client.escapeIdentifier(name)}`);
await client.end();
