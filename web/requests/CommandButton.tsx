import { Button, Tooltip } from '@mui/material';

interface CommandButtonProps {
  readonly label: string;
  readonly variant?: 'contained' | 'outlined';
  /** Number of the chosen requests whose state allows the command, of all that are chosen. */
  readonly fitting: number;
  readonly of: number;
  /** Shown where none of them allows it. */
  readonly reason: string;
  readonly give: () => void;
}

/** Button that gives a command to the chosen requests, and says how many of them it is for. */
export function CommandButton({ label, variant = 'outlined', fitting, of, reason, give }: CommandButtonProps) {
  return (
    <Tooltip title={fitting === 0 ? reason : ''}>
      <span>
        <Button variant={variant} disabled={fitting === 0} onClick={give}>
          {label}
          {fitting > 0 && fitting < of && ` (${fitting} of ${of})`}
        </Button>
      </span>
    </Tooltip>
  );
}
