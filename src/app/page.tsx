import { Songs } from '@/shell/Songs';

export default function Page() {
  return <Songs />;
}
