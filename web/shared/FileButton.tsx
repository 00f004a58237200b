import { Button, type ButtonProps } from '@mui/material';
import { useRef } from 'react';

interface FileButtonProps extends Pick<ButtonProps, 'variant' | 'children'> {
  readonly accept: string;
  readonly onChoose: (file: File) => void;
}

/** A button that lets a file be chosen. */
export function FileButton({ accept, onChoose, ...button }: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button
        {...button}
        onClick={() => {
          input.current?.click();
        }}
      />
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        onChange={({ target }) => {
          const [file] = target.files ?? [];
          if (file) onChoose(file);
          target.value = '';
        }}
      />
    </>
  );
}
