export { type Confirmation, type MessageReading, readConfirmation, readMessage } from "./decode.js";
export { type OutgoingMessage, writeMessages } from "./encode.js";
