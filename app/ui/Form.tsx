import { useId } from "react";
import { type FormProps, Form as RouterForm, useRouteLoaderData } from "react-router";
import { useMay } from "./useMay";

interface Props extends FormProps {
  /** What stands in it is worth reading for those who may not change it: they see it without its buttons. */
  readonly readable?: boolean;
}

/**
 * A form of the lane. One that changes something bears a mark of its own: sent twice, by a second click or a reload, it is
 * taken once. Whoever may not change it is not shown it; the server refuses all the same.
 */
export function Form(props: Props) {
  const { children, method, readable = false, ...rest } = props;
  const marks = useRouteLoaderData("root") as { readonly mark: string } | undefined;
  const may = useMay();
  const id = useId();
  if (method === "post" && !may("POST", props.action))
    return readable ? (
      <fieldset disabled className={`only-read ${typeof props.className === "string" ? props.className : ""}`}>
        {children}
      </fieldset>
    ) : null;
  return (
    <RouterForm method={method} {...rest}>
      {method === "post" && marks && (
        <input type="hidden" name="once" value={`${marks.mark}${id.replace(/\W/g, "-")}`} />
      )}
      {children}
    </RouterForm>
  );
}
