import { once } from "node:events";
import { existsSync } from "node:fs";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { fileURLToPath } from "node:url";
import sirv from "sirv";
import { CallError } from "../call-error.js";
import type { Io } from "../io.js";

const HOST = "127.0.0.1";

/** Serves the playground until it is told to stop. */
export async function demo({ port }: { port: string }, io: Io): Promise<boolean> {
  const wanted = Number(port);
  if (!Number.isInteger(wanted) || wanted < 0 || wanted > 65535)
    throw new CallError(`"${port}" is not a port number.`, "Write a number up to 65535; 0 takes any free one.");
  const playground = fileURLToPath(new URL("../playground", import.meta.url));
  if (!existsSync(playground)) throw new CallError("The playground is not built.", "In a clone, run `npm run build` first.");
  const files = sirv(playground, { dev: false });
  const server = createServer((request, response) =>
    files(request, response, () => void response.writeHead(404).end("Not found")),
  );
  const taken = await listen(server, wanted).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== "EADDRINUSE") throw error;
    return true;
  });
  if (taken === true) {
    io.err.write(`Port ${wanted} is in use; taking a free one.\n`);
    await listen(server, 0);
  }
  const { port: used } = server.address() as AddressInfo;
  io.out.write(`The playground with Linden Yard is at http://${HOST}:${used}/  (press Ctrl-C to stop)\n`);
  await once(io.ended, "abort");
  await new Promise((resolve) => server.close(resolve).closeAllConnections());
  return true;
}

function listen(server: Server, port: number): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once("error", reject);
    server.listen(port, HOST, () => {
      server.off("error", reject);
      resolve();
    });
  });
}
