import { Missing } from '@/shell/Missing';

export default function NotFound() {
  return <Missing />;
}
