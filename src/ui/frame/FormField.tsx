'use client';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { VALUE_FACE } from '../theme';
import { Controller, type Control, type FieldPath, type FieldValues } from 'react-hook-form';

interface Props<Values extends FieldValues> {
  readonly control: Control<Values>;
  readonly name: FieldPath<Values>;
  readonly label: string;
  readonly required?: boolean;
  /** Over both columns of the form. */
  readonly wide?: boolean;
  readonly type?: string;
  readonly disabled?: boolean;
  /** Makes it a choice: value → text. */
  readonly options?: Readonly<Record<string, string>>;
  readonly help?: string;
  /** Several lines in the face of values, for text that is read by a machine. */
  readonly lines?: number;
}

/** One field of a form of two columns. */
export function FormField<Values extends FieldValues>({ control, name, label, required = false, wide = false, type, disabled = false, options, help, lines }: Props<Values>) {
  return (
    <Controller
      control={control}
      name={name}
      rules={required ? { required: `${label} is needed.` } : {}}
      render={({ field, fieldState }) => (
        <TextField {...field} label={label} disabled={disabled} error={Boolean(fieldState.error)} helperText={fieldState.error?.message ?? help} {...(type ? { type, autoComplete: 'new-password' } : {})} {...(lines ? { multiline: true, minRows: lines, maxRows: 12, slotProps: { htmlInput: { style: { fontFamily: VALUE_FACE, fontSize: 13 } } } } : {})} select={options !== undefined} sx={{ gridColumn: wide ? '1 / -1' : undefined }}>
          {options && Object.entries(options).map(([value, text]) => <MenuItem key={value} value={value}>{text}</MenuItem>)}
        </TextField>
      )}
    />
  );
}
