import { unzip } from "fflate";

const LARGEST = 8_000_000;

/**
 * The files of a zip, or the file itself where it is none. What is too large to be a recording is left out before it is
 * unpacked.
 */
export async function filesIn(file: File): Promise<File[]> {
  if (!file.name.toLowerCase().endsWith(".zip")) return [file];
  const bytes = new Uint8Array(await file.arrayBuffer());
  return new Promise((resolve, reject) => {
    const fits = (item: { name: string; originalSize: number }) =>
      item.originalSize > 0 && item.originalSize <= LARGEST && !/(^|\/)(\.|__MACOSX)/.test(item.name);
    unzip(bytes, { filter: fits }, (error, found) => {
      if (error) reject(new Error(`“${file.name}” is no zip, or was cut off.`));
      else resolve(Object.entries(found).map(([name, content]) => new File([content as BlobPart], name)));
    });
  });
}

/** Offer what is in memory to be kept as a file. */
export function keepFile(content: Blob, name: string): void {
  const address = URL.createObjectURL(content);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}

/** Offer a text to be saved as a file. */
export function saveText(name: string, text: string, type = "text/csv"): void {
  keepFile(new Blob([text], { type: `${type};charset=utf-8` }), name);
}
