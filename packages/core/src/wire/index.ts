export { type Confirmation, type MessageReading, readConfirmation, readMessage } from "./decode.js";
export { type OutgoingMessage, writeMessages } from "./encode.js";
export { type LifeSign, LifeSigns } from "./life-signs.js";
export { Repeats } from "./repeats.js";
export { type Hears, LocalTransport, type Transport, topicsHeard } from "./transport.js";
