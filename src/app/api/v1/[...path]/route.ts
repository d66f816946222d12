import { dispatch } from '@/app/api/dispatch';

export const dynamic = 'force-dynamic';

type Context = { readonly params: Promise<{ readonly path: string[] }> };

const handle = async (request: Request, { params }: Context): Promise<Response> => dispatch(request, (await params).path);

export { handle as GET, handle as POST, handle as PUT, handle as DELETE };
