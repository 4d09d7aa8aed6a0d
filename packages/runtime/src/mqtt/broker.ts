// A broker within this process: for the demo, for tests, and for a house that has none.
import { once } from "node:events";
import { type AddressInfo, createServer, type Socket } from "node:net";
import { Aedes } from "aedes";

/** A broker that runs. */
export interface EmbeddedBroker {
  readonly port: number;
  /** Ends it, with all who are connected. */
  end(): Promise<void>;
}

/**
 * Starts a broker (MQTT 3.1.1) on this machine.
 * @param port 0 takes any free one
 */
export async function startBroker({
  port = 0,
  host = "127.0.0.1",
}: {
  port?: number;
  host?: string;
} = {}): Promise<EmbeddedBroker> {
  const broker = await Aedes.createBroker();
  const server = createServer(broker.handle);
  const sockets = new Set<Socket>();
  server.on("connection", (socket) => {
    sockets.add(socket);
    socket.on("close", () => sockets.delete(socket));
  });
  server.listen(port, host);
  await once(server, "listening");
  return {
    port: (server.address() as AddressInfo).port,
    async end() {
      const closed = once(server, "close");
      server.close();
      await new Promise<void>((done) => broker.close(() => done()));
      for (const socket of sockets) socket.destroy();
      await closed;
    },
  };
}
