// Prints as many free loopback ports as it is asked for.
import { createServer, type AddressInfo, type Server } from 'node:net'

const wanted = Number(process.argv[2] ?? 1)
const servers = await Promise.all(
  Array.from({ length: wanted }, () => {
    const server = createServer()
    return new Promise<Server>((resolve) => server.listen(0, '127.0.0.1', () => resolve(server)))
  }),
)
console.log(servers.map((server) => (server.address() as AddressInfo).port).join(' '))
for (const server of servers) server.close()
