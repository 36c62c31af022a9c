/** A chosen file as base64, as the server takes it. */
export function asBase64(file: File): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result).split(",", 2)[1] ?? "");
    reader.onerror = () => reject(new Error("The file cannot be read on this device."));
    reader.readAsDataURL(file);
  });
}

/** Offer a text to be saved as a file. */
export function saveText(name: string, text: string, type = "text/csv"): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: `${type};charset=utf-8` }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
