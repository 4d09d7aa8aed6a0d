export { type Confirmation, type MessageReading, readConfirmation, readMessage } from "./decode.js";
export { confirmationMessages, readCommand, readingMessages, topicsTold } from "./devices.js";
export { type OutgoingMessage, writeMessages } from "./encode.js";
export { type Heard, Listener } from "./listener.js";
export { Repeats } from "./repeats.js";
export { type Hears, LocalTransport, type Transport, topicsHeard } from "./transport.js";
