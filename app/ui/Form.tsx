import { useId } from "react";
import { type FormProps, Form as RouterForm, useRouteLoaderData } from "react-router";

/**
 * A form of the lane. One that changes something bears a mark of its own: sent twice, by a second click or a reload, it is
 * taken once.
 */
export function Form(props: FormProps) {
  const { children, method, ...rest } = props;
  const marks = useRouteLoaderData("root") as { readonly mark: string } | undefined;
  const id = useId();
  return (
    <RouterForm method={method} {...rest}>
      {method === "post" && marks && (
        <input type="hidden" name="once" value={`${marks.mark}${id.replace(/\W/g, "-")}`} />
      )}
      {children}
    </RouterForm>
  );
}
