import { Button, type ButtonProps, VisuallyHidden } from "@chakra-ui/react";

interface Props {
  readonly words: string;
  /** What the file is, for who cannot see the button. */
  readonly label: string;
  readonly accept: string;
  readonly size?: ButtonProps["size"];
  readonly onFile: (file: File) => void;
}

/** A button that stands for a file to be chosen: the same one twice, too. */
export function FileButton({ words, label, accept, size = "sm", onFile }: Props) {
  return (
    <Button asChild size={size} variant="outline" _focusWithin={{ outline: "2px solid var(--accent)" }}>
      <label>
        {words}
        <VisuallyHidden asChild>
          <input
            type="file"
            accept={accept}
            aria-label={label}
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              event.target.value = "";
              if (file) onFile(file);
            }}
          />
        </VisuallyHidden>
      </label>
    </Button>
  );
}
