using Microsoft.AspNetCore.Mvc.ModelBinding.Metadata;

namespace EvenSplit.Web.Serving;

/// <summary>A field left empty is empty text, not the absence of text: drafts say so in their types.</summary>
internal sealed class KeepEmptyText : IDisplayMetadataProvider
{
    public void CreateDisplayMetadata(DisplayMetadataProviderContext context) => context.DisplayMetadata.ConvertEmptyStringToNull = false;
}
