import type { Schemas } from "../api/client";

/** A chosen file as the server takes it: its name, and its content as base64. */
export async function contentOf(file: File): Promise<Schemas["ImportFile"]> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = "";
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return { name: file.name, content: btoa(text) };
}
