import fs from "node:fs";
import net from "node:net";
import { once } from "node:events";
import { createInterface } from "node:readline";
import type { EngineEvent } from "@/core/run/protocol";
import { FROM, GO, LINES, numbered, SOCKET, STOP, TAKEN } from "./run-folder";

/** How long a run goes on with nobody there. */
const ALONE_MS = 3_600_000;

/**
 * Keeps what a run tells for whoever listens, now or later: in memory, and in the run's folder as long as its disk
 * takes it. Nobody there for an hour ends the run; what was told stays in its file.
 */
export class Keeper {
  private readonly lines: string[] = [];
  private readonly listeners = new Set<net.Socket>();
  /** How many lines are in the file. */
  private written = 0;
  private alone: NodeJS.Timeout;
  private isOver = false;
  private letGo!: () => void;
  /** Once nobody needs this process any more. */
  readonly done = new Promise<void>((resolve) => (this.letGo = resolve));

  private constructor(
    private readonly server: net.Server,
    private readonly file: number,
    private readonly stop: () => void,
    private readonly go: (repeat: number) => void,
  ) {
    server.on("connection", (socket) => this.welcome(socket));
    this.alone = setTimeout(() => this.leave(), ALONE_MS);
  }

  /**
   * Begins to listen in the run's folder, which is this process's own.
   *
   * @param stop asks the run to end
   * @param go lets a repeat begin
   */
  static async begin(stop: () => void, go: (repeat: number) => void): Promise<Keeper> {
    const server = net.createServer().listen(SOCKET);
    await once(server, "listening");
    // A file of lines says that there was somebody to listen to: it comes after the socket.
    return new Keeper(server, fs.openSync(LINES, "ax", 0o600), stop, go);
  }

  tell(event: EngineEvent): void {
    const number = this.lines.push(JSON.stringify(event)) - 1;
    for (const socket of this.listeners) socket.write(numbered(number, this.lines[number]!));
    this.write();
  }

  /** The run is over; who has not heard of that yet finds it in the file. */
  end(event: EngineEvent): void {
    this.tell(event);
    this.isOver = true;
    if (this.listeners.size === 0) this.wait();
  }

  /** Nobody listens: what is in the file needs no process, and for the rest somebody may come back. */
  private wait(): void {
    clearTimeout(this.alone);
    if (this.isOver && this.isWritten) this.leave();
    else this.alone = setTimeout(() => this.leave(), ALONE_MS);
  }

  private get isWritten(): boolean {
    return this.written === this.lines.length;
  }

  private write(): void {
    try {
      const rest = this.lines.slice(this.written);
      const text = Buffer.from(rest.map((line, i) => numbered(this.written + i, line)).join(""));
      const { size } = fs.fstatSync(this.file);
      if (fs.writeSync(this.file, text) === text.length) this.written = this.lines.length;
      else fs.ftruncateSync(this.file, size); // its disk is full: in memory until there is room
    } catch {
      // The same.
    }
  }

  private welcome(socket: net.Socket): void {
    clearTimeout(this.alone);
    socket.on("error", () => socket.destroy());
    socket.once("close", () => {
      this.listeners.delete(socket);
      if (this.listeners.size === 0) this.wait();
    });
    // An interface hands its input's errors on; this one's end is all that matters, and is told above.
    const said = createInterface({ input: socket }).on("error", () => undefined);
    said.on("line", (line) => {
      const from = FROM.exec(line)?.[1];
      const repeat = GO.exec(line)?.[1];
      if (repeat !== undefined) this.go(Number(repeat));
      if (from !== undefined) this.catchUp(socket, Number(from));
      else if (line === STOP) this.stop();
      else if (line === TAKEN && this.isOver) {
        fs.rmSync(process.cwd(), { recursive: true, force: true });
        this.leave();
      }
    });
  }

  private catchUp(socket: net.Socket, from: number): void {
    this.listeners.add(socket);
    for (let number = from; number < this.lines.length; number++)
      socket.write(numbered(number, this.lines[number]!));
  }

  /** Ends what goes on; when that is over nobody is waited for any more. */
  private leave(): void {
    if (!this.isOver) return this.stop();
    this.write();
    this.server.close();
    for (const socket of this.listeners) socket.destroy();
    this.letGo();
  }
}
