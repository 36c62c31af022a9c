/** Words broken into lines that fit so many metres. */
export function wrapped(words: string, width: number): string[] {
  const most = Math.max(5, Math.floor(width / 0.135));
  const lines: string[] = [];
  for (const word of words.split(" ")) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + word.length + 1 <= most) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}
