import { FileUp } from "lucide-react";
import { useRef } from "react";

type Props = {
  /** what stands on the button */
  name: string;
  /** the label of the file field */
  label: string;
  accept: string;
  disabled?: boolean;
  onFile: (file: File) => void;
};

/** A button that lets a file of this device be chosen; the same one can be chosen again. */
export function FileButton({ name, label, accept, disabled, onFile }: Props) {
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <>
      <button type="button" className="btn btn-sm" disabled={disabled} onClick={() => chooser.current?.click()}>
        <FileUp size={16} aria-hidden /> {name}
      </button>
      <input
        ref={chooser}
        type="file"
        accept={accept}
        aria-label={label}
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) onFile(file);
        }}
      />
    </>
  );
}
