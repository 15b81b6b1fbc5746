/**
 * The reference of the controller: a server that reads a body and inserts one row, and nothing
 * else. DATABASE_URL, PORT.
 */
import { createServer } from 'node:http'
import pg from 'pg'

const pool = new pg.Pool({ connectionString: process.env.DATABASE_URL, max: 10 })
await pool.query(
  'create table if not exists bench_row (id bigserial primary key, body jsonb not null)',
)
createServer((request, response) => {
  const chunks: Buffer[] = []
  request.on('data', (c: Buffer) => chunks.push(c))
  request.on('end', () => {
    pool.query('insert into bench_row (body) values ($1)', [Buffer.concat(chunks).toString()]).then(
      () => {
        response.writeHead(200, { 'content-type': 'application/json' })
        response.end('{"ok":true}')
      },
      () => {
        response.writeHead(500)
        response.end()
      },
    )
  })
}).listen(Number(process.env.PORT), '127.0.0.1', () => process.send?.('ready'))
