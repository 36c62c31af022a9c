import { FileUp } from "lucide-react";
import { useRef, useState, type DragEvent } from "react";

type Props = {
  /** what may be dropped, in words */
  words: string;
  /** the label of the file field */
  label: string;
  accept: string;
  disabled?: boolean;
  onFiles: (files: File[]) => void;
};

/** Files are dropped here, or chosen: one or many. */
export function DropArea({ words, label, accept, disabled, onFiles }: Props) {
  const chooser = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const dropped = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const files = [...event.dataTransfer.files];
    if (files.length && !disabled) onFiles(files);
  };
  return (
    <div
      className={`flex flex-wrap items-center gap-3 rounded border-2 border-dashed p-4 ${over ? "border-primary bg-base-200" : "border-base-300"}`}
      data-testid="drop-area"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={dropped}
    >
      <p className="min-w-0 grow">{words}</p>
      <button type="button" className="btn btn-sm" disabled={disabled} onClick={() => chooser.current?.click()}>
        <FileUp size={16} aria-hidden /> Choose files
      </button>
      <input
        ref={chooser}
        type="file"
        multiple
        accept={accept}
        aria-label={label}
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          if (files.length) onFiles(files);
        }}
      />
    </div>
  );
}
